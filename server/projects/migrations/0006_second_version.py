"""What is kept of sheets, and the steps between them, is written as version 2 says it."""

from django.db import migrations

from calado.sheet.versions import migrate, to_second


def rewrite(apps, schema_editor):
    """Rewrite steps, projects' sheets and what moved them; a sheet that is packed is brought up when it is read."""
    revisions = apps.get_model("projects", "Revision").objects
    for id, step, common in revisions.values_list("id", "step", "common").iterator(50):
        if step or common:
            revisions.filter(id=id).update(step=to_second(step), common=common and [migrate(each) for each in common])
    projects = apps.get_model("projects", "Project").objects
    for id, sheet, taken in projects.values_list("id", "sheet", "taken"):
        projects.filter(id=id).update(sheet=migrate(sheet), taken=taken and [migrate(each) for each in taken])


class Migration(migrations.Migration):
    dependencies = [("projects", "0005_removed")]

    operations = [migrations.RunPython(rewrite, migrations.RunPython.noop)]
