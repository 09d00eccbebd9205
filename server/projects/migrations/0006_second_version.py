"""What is kept of sheets, and the steps between them, is written as version 2 says it."""

import json
import zlib

from django.db import migrations

from calado.sheet.versions import migrate, to_second


def rewrite(apps, schema_editor):
    """Rewrite steps, packed sheets, projects' sheets and what moved them."""
    revisions = apps.get_model("projects", "Revision").objects
    for id, step, common in revisions.values_list("id", "step", "common").iterator(50):
        if step or common:
            revisions.filter(id=id).update(step=to_second(step), common=common and [migrate(each) for each in common])
    for id, kept in revisions.exclude(kept=None).values_list("id", "kept").iterator(20):
        # a packed sheet of version 1 does not say its version
        sheet = migrate({"version": 1, **json.loads(zlib.decompress(bytes(kept)))})
        again = zlib.compress(json.dumps(sheet, separators=(",", ":")).encode(), 1)
        revisions.filter(id=id).update(kept=again, whole=len(again))
    projects = apps.get_model("projects", "Project").objects
    for id, sheet, taken in projects.values_list("id", "sheet", "taken"):
        projects.filter(id=id).update(sheet=migrate(sheet), taken=taken and [migrate(each) for each in taken])


class Migration(migrations.Migration):
    dependencies = [("projects", "0005_removed")]

    operations = [migrations.RunPython(rewrite, migrations.RunPython.noop)]
