"""How often the worker ended on an export."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0003_covers_and_sizes")]

    operations = [migrations.AddField("export", "ended", models.PositiveSmallIntegerField(default=0))]
