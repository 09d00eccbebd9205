"""The campaigns, short: nothing that was answered is lost, nothing breaks, whatever is sent and whoever is killed."""

import contextlib
import io

from django.test import SimpleTestCase, tag

from tools.campaigns.__main__ import CAMPAIGNS, main


@tag("e2e")
class Campaigns(SimpleTestCase):
    def test_each_in_short(self) -> None:
        for name, count in (("files", 40), ("editors", 3), ("kills", 1), ("disk", 1), ("api", 1)):
            said = io.StringIO()
            with self.subTest(name), contextlib.redirect_stdout(said):
                self.assertEqual(main([name, str(count)]), 0, said.getvalue())

    def test_memory_is_looked_at(self) -> None:
        # so short a run says nothing of growth, but that it runs and measures
        figures = CAMPAIGNS["soak"][0](6, 1)
        self.assertGreater(int(str(figures["previews"])), 0)
        self.assertGreater(int(str(figures["memory at last, MB"])), 50)

    def test_what_is_not_known_is_said(self) -> None:
        said = io.StringIO()
        with contextlib.redirect_stdout(said):
            self.assertEqual(main(["fire"]), 2)
        self.assertIn("usage", said.getvalue())
