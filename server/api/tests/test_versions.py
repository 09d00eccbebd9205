"""A folder of an older version is brought to the present: its steps, its projects, and what leads back."""

import json
import zlib
from importlib import import_module

from django.apps import apps
from django.test import TestCase

from calado.sheet.tests.test_versions import FIRST
from server.api.tests.support import Place
from server.projects.history import sheet_at, unpacked
from server.projects.models import Revision, Shot

second = import_module("server.projects.migrations.0006_second_version")


class FolderTest(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        _, shot = self.project_with_shot()
        self.shot = Shot.objects.get(id=shot)

    def test_steps_of_the_first_version_lead_where_they_did(self) -> None:
        head, region = self.shot.head, FIRST["regions"][0]
        self.shot.revisions.create(
            number=head + 1, base=head, step={"regions": [{"region": region}]}, depth=1, weight=500, label="a region"
        )
        second.rewrite(apps, None)
        made = sheet_at(self.shot.id, head + 1).regions[0]
        self.assertEqual([each.does for each in made.parts[0].strokes], ["add", "erase"])
        self.assertEqual(made.removed[0].kind, "hole")

    def test_a_packed_sheet_of_the_first_version_is_packed_anew(self) -> None:
        old = zlib.compress(json.dumps({"regions": FIRST["regions"]}).encode())
        Revision.objects.filter(shot=self.shot).update(kept=old, whole=len(old))
        second.rewrite(apps, None)
        revision = Revision.objects.get(shot=self.shot)
        kept = bytes(revision.kept or b"")
        self.assertEqual((revision.whole, json.loads(zlib.decompress(kept))["version"]), (len(kept), 2))
        self.assertEqual(unpacked(kept).regions[0].parts[2].strokes[0].colour_tolerance, 4.0)

    def test_the_passes_of_a_project_and_what_moved_them_say_the_same_version(self) -> None:
        old = {"version": 1, "regions": [], "passes": []}
        project = self.shot.project
        project.sheet = old
        project.save()
        Revision.objects.filter(shot=self.shot).update(common=[old, old])
        second.rewrite(apps, None)
        project.refresh_from_db()
        common = Revision.objects.filter(shot=self.shot).values_list("common", flat=True).first()
        self.assertEqual([project.sheet["version"], *(each["version"] for each in common)], [2, 2, 2])
