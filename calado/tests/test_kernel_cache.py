"""Kernels are kept by what they are made of: no more, so that words may change, and no less, so that none is stale."""

import importlib
import inspect
import os
import pkgutil
import sys
import tempfile
from pathlib import Path
from types import ModuleType
from unittest import TestCase, mock

from numba.core.dispatcher import Dispatcher

import calado
from calado.kernel_cache import HERE, KEPT_DAYS, is_warm, kernel_sources, mark_warm, tidy


def _modules() -> list[ModuleType]:
    found = []
    for info in pkgutil.walk_packages(calado.__path__, "calado."):
        if ".tests" not in info.name and not info.name.endswith("__main__"):
            found.append(importlib.import_module(info.name))
    return found


class WarmTest(TestCase):
    """Whether anything is left to be compiled."""

    def test_compiled_for_this_processor_and_by_this_compiler_alone(self) -> None:
        with tempfile.TemporaryDirectory() as folder, mock.patch.dict(os.environ, NUMBA_CACHE_DIR=folder):
            self.assertFalse(is_warm())
            mark_warm()
            self.assertTrue(is_warm())
            with mock.patch("llvmlite.binding.get_host_cpu_name", return_value="another"):
                self.assertFalse(is_warm())

    def test_of_files_as_they_were_written_and_where_they_lie(self) -> None:
        with tempfile.TemporaryDirectory() as folder, mock.patch.dict(os.environ, NUMBA_CACHE_DIR=folder):
            source = Path(folder) / "kernel.py"
            source.write_text("here")
            with mock.patch("calado.kernel_cache.kernel_sources", return_value=[source]):
                mark_warm()
                self.assertTrue(is_warm())
                # written anew, be it with the same words: Numba compiles it anew
                os.utime(source, (1, 1))
                self.assertFalse(is_warm())
                mark_warm()
                self.assertTrue(is_warm())
                with mock.patch("calado.kernel_cache.HERE", Path(folder)):
                    self.assertFalse(is_warm())


class KernelSourcesTest(TestCase):
    """The files whose content names the folder."""

    def test_every_kernel_and_all_it_takes_from_elsewhere_is_among_them(self) -> None:
        sources = set(kernel_sources())
        kernels = {
            id(thing): thing
            for module in _modules()
            for thing in vars(module).values()
            if isinstance(thing, Dispatcher) and thing.py_func.__module__.startswith("calado.")
        }
        self.assertGreater(len(kernels), 60)
        for kernel in kernels.values():
            function = kernel.py_func
            file = Path(inspect.getsourcefile(function) or "")
            self.assertIn(file, sources, function)
            # a constant or a function of another module is compiled in
            home = sys.modules[function.__module__]
            taken = [name for name in function.__code__.co_names if name in vars(home)]
            text = file.read_text()
            for name in taken:
                origin = getattr(vars(home)[name], "__module__", None) or ""
                if origin.startswith("calado.") and origin != home.__name__:
                    self.assertIn(Path(inspect.getsourcefile(sys.modules[origin]) or ""), sources, (function, name))
                    self.assertIn(name, text)

    def test_a_file_counts_when_something_that_compiles_reads_it_however_far(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            package = Path(folder) / "calado"
            (package / "deep").mkdir(parents=True)
            (package / "kernel.py").write_text(
                "import numba\nfrom calado.deep.numbers import (\n    ONE,\n    TWO,\n)\n"
            )
            (package / "deep" / "__init__.py").write_text("")
            (package / "deep" / "numbers.py").write_text("from calado import base\nONE = TWO = base.ONE\n")
            (package / "base.py").write_text("ONE = 1\n")
            (package / "words.py").write_text("from calado.kernel import numba  # reads it, is not read by it\n")
            found = [str(path.relative_to(package)) for path in kernel_sources(package)]
        self.assertEqual(found, ["base.py", "deep/numbers.py", "kernel.py"])

    def test_what_prints_or_finds_is_none(self) -> None:
        sources = {str(path.relative_to(HERE)) for path in kernel_sources()}
        for name in ("cli.py", "report/page.py", "detect/find.py", "start/starters.py"):
            self.assertNotIn(name, sources)


class TidyTest(TestCase):
    """Folders of sources long gone."""

    def test_only_what_nobody_asked_for_in_a_while_goes(self) -> None:
        with tempfile.TemporaryDirectory() as made:
            here = Path(made)
            old, used, library = here / ("a" * 16), here / ("b" * 16), here / "pymatting-1-2"
            for path in (old, used, library):
                path.mkdir()
                (path / "kernel.nbc").write_bytes(b"compiled")
                long_ago = path.stat().st_mtime - (KEPT_DAYS + 1) * 86_400
                os.utime(path, (long_ago, long_ago))
            self.assertEqual(tidy(used), 1)
            self.assertEqual({path.name for path in here.iterdir()}, {used.name, library.name})
            self.assertEqual(tidy(here / ("c" * 16)), 0)
