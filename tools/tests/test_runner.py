"""What a quick run leaves out is there, and left out."""

from importlib import import_module
from unittest import TestCase

from django.test.utils import iter_test_cases

from tools.runner import Runner, long_tests


class QuickTest(TestCase):
    def test_each_that_takes_long_is_a_test(self) -> None:
        for name in long_tests():
            module, case, test = name.rsplit(".", 2)
            with self.subTest(name):
                self.assertTrue(callable(getattr(getattr(import_module(module), case), test)))

    def test_it_leaves_out_these_alone(self) -> None:
        label = "calado.region.tests.test_refine"
        whole, short = (
            {each.id() for each in iter_test_cases(Runner(quick=quick, verbosity=0).build_suite([label]))}
            for quick in (False, True)
        )
        self.assertEqual(whole - short, whole & long_tests())
        self.assertTrue(short and whole - short)
