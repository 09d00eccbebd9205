"""The test runner: Django's, which tells at the end which tests took longest and which failed.

With ``--quick`` those that take long, as ``tools/long_tests.txt`` lists them, are left out, and counted.
"""

import os
import time
import unittest
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.test.runner import DiscoverRunner
from django.test.utils import iter_test_cases
from hypothesis import HealthCheck, settings

# how long examples take to make tells of the machine and what else it does, not of what is tested
settings.register_profile("calado", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("calado")

SLOWEST = 15
#: where the times of all are kept, of runs that are more than a look at a few
KEPT = Path(__file__).parents[1] / ".make"


#: tests that took more than four seconds beside those with a browser, by name
LONG = Path(__file__).with_name("long_tests.txt")


def long_tests() -> set[str]:
    """Return the names of the tests that take long."""
    return set(LONG.read_text().split())


class _Timed(unittest.TextTestResult):
    """A result that keeps how long each test took, in seconds."""

    def __init__(self, *given: Any, **named: Any) -> None:
        super().__init__(*given, **named)
        self.took: list[tuple[float, str]] = []
        self._began = 0.0

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802 (the library's name)
        """Begin to count."""
        self._began = time.perf_counter()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        """Keep the time."""
        super().stopTest(test)
        self.took.append((time.perf_counter() - self._began, test.id()))


class Runner(DiscoverRunner):
    """Runs the tests and prints the slowest."""

    def __init__(self, *given: Any, quick: bool = False, **named: Any) -> None:
        super().__init__(*given, **named)
        self._quick = quick

    @classmethod
    def add_arguments(cls, parser: ArgumentParser) -> None:
        """Take whether to be quick."""
        super().add_arguments(parser)
        parser.add_argument("--quick", action="store_true", help="Leave out what takes long.")

    def build_suite(self, *given: Any, **named: Any) -> unittest.TestSuite:
        """Gather the tests, and leave out what takes long, if asked to."""
        suite: unittest.TestSuite = super().build_suite(*given, **named)
        if not self._quick:
            return suite
        every, long = list(iter_test_cases(suite)), long_tests()
        kept = [each for each in every if each.id() not in long]
        print(f"Tests that take long and are left out: {len(every) - len(kept)}.")
        return self.test_suite(kept)

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        """Return what keeps the times."""
        return super().get_resultclass() or _Timed

    def suite_result(self, suite: unittest.TestSuite, result: unittest.TextTestResult, **more: Any) -> int:
        """Print the slowest tests and those that failed, keep the times of all, and return how many failed."""
        times = [f"{seconds:7.1f} s  {name}" for seconds, name in sorted(getattr(result, "took", []), reverse=True)]
        print("\n".join(times[:SLOWEST]))
        if len(times) > SLOWEST and KEPT.is_dir():
            (KEPT / f"times-{os.getpid()}.txt").write_text("\n".join(times) + "\n")
        # a long log is cut in the midst: what failed stands at its end once more
        for test, told in [*result.failures, *result.errors]:
            print(f"failed: {test.id()}: {told.strip().splitlines()[-1]}")
        failed: int = super().suite_result(suite, result, **more)
        return failed
