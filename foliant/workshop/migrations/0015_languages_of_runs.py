from typing import Any

from django.db import migrations, models


def split(apps: Any, schema_editor: Any) -> None:
    """The language that is taken at an address stood behind it."""
    for run in apps.get_model("workshop", "Run").objects.filter(address__endswith=" hpgl").only("address"):
        run.address, run.language = run.address.split(" ")
        run.save(update_fields=["address", "language"])


class Migration(migrations.Migration):
    dependencies = [("workshop", "0014_where_runs_lie")]

    operations = [
        migrations.AddField("run", "language", models.CharField(default="lines", max_length=8)),
        migrations.RunPython(split, migrations.RunPython.noop),
    ]
