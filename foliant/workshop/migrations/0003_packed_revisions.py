import json
import zlib

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def pack_documents(apps, schema_editor):
    """Whole documents, compressed, in place of plain JSON."""
    revisions = apps.get_model("workshop", "Revision").objects
    for pk in revisions.values_list("pk", flat=True).iterator():
        document = revisions.values_list("document", flat=True).get(pk=pk)
        packed = zlib.compress(json.dumps(document, separators=(",", ":")).encode(), 6)
        revisions.filter(pk=pk).update(packed=packed)


def unpack_documents(apps, schema_editor):
    revisions = apps.get_model("workshop", "Revision").objects
    for pk in revisions.values_list("pk", flat=True).iterator():
        packed = revisions.values_list("packed", flat=True).get(pk=pk)
        revisions.filter(pk=pk).update(document=json.loads(zlib.decompress(bytes(packed))))


def end_runs(apps, schema_editor):
    """A run from before kept no program that could go on."""
    active = ["sending", "waiting", "running", "holding"]
    apps.get_model("workshop", "Run").objects.filter(state__in=active).update(state="lost")


class Migration(migrations.Migration):

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("workshop", "0002_own_fonts"),
    ]

    operations = [
        migrations.AddField("revision", "packed", models.BinaryField(default=bytes), preserve_default=False),
        migrations.AddField("revision", "edit", models.BinaryField(default=bytes)),
        migrations.AddField(
            "revision",
            "author",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="+",
                to=settings.AUTH_USER_MODEL,
            ),
        ),
        migrations.AlterField("revision", "document", models.JSONField(default=dict)),
        migrations.RunPython(pack_documents, unpack_documents),
        migrations.RemoveField("revision", "document"),
        migrations.AddField("run", "program", models.BinaryField(default=bytes)),
        migrations.AddField("run", "taken", models.DateTimeField(blank=True, null=True)),
        migrations.RunPython(end_runs, migrations.RunPython.noop),
        migrations.AddConstraint(
            "run",
            models.UniqueConstraint(
                condition=models.Q(("state__in", ["sending", "waiting", "running", "holding"])),
                fields=("machine",),
                name="one_run_a_machine",
            ),
        ),
    ]
