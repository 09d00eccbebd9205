"""The notice names all that Calado is handed on with."""

from unittest import TestCase

from tools.notice import ROOT, python_packages, web_packages


class NoticeTest(TestCase):
    def test_every_package_is_named_with_its_version(self) -> None:
        text = (ROOT / "NOTICE").read_text()
        named = [*python_packages(), *((name, version) for name, version, _ in web_packages())]
        self.assertGreater(len(named), 40)
        for name, version in named:
            self.assertIn(f"  {name} {version}: ", text, "run python -m tools.notice")

    def test_every_licence_is_said(self) -> None:
        self.assertNotIn("UNKNOWN", (ROOT / "NOTICE").read_text())

    def test_every_model_is_named(self) -> None:
        text = (ROOT / "NOTICE").read_text()
        for model in (ROOT / "calado" / "detect" / "models").glob("*.tflite"):
            self.assertIn(model.name, text)
