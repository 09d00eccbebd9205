"""Revisions hold their step by ids; those that are there keep their sheet whole, packed."""

import json
import zlib

from django.db import migrations, models


def pack(apps, schema_editor):
    """Pack the sheet of each revision."""
    revisions = apps.get_model("projects", "Revision").objects
    for id, sheet in revisions.values_list("id", "sheet").iterator(50):
        kept = zlib.compress(json.dumps(sheet, separators=(",", ":")).encode(), 6)
        revisions.filter(id=id).update(kept=kept, whole=len(kept), step={})


class Migration(migrations.Migration):
    dependencies = [("projects", "0003_common_steps")]

    operations = [
        migrations.AddField("revision", "base", models.PositiveIntegerField(null=True)),
        migrations.AddField("revision", "kept", models.BinaryField(null=True)),
        migrations.AddField("revision", "depth", models.PositiveIntegerField(default=0)),
        migrations.AddField("revision", "weight", models.PositiveBigIntegerField(default=0)),
        migrations.AddField("revision", "whole", models.PositiveIntegerField(default=0)),
        migrations.AlterField("revision", "step", models.JSONField(default=dict)),
        migrations.RunPython(pack, migrations.RunPython.noop),
        migrations.RemoveField("revision", "sheet"),
    ]
