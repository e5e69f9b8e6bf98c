import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

_ACTIVE = ["sending", "waiting", "running", "holding"]


def name_addresses(apps, schema_editor):
    """Every machine so far was a simulated one; what was under way is over, as its feeder is another now."""
    runs = apps.get_model("workshop", "Run").objects
    runs.update(address=models.functions.Concat(models.Value("simulated:"), models.F("machine")))
    runs.filter(state__in=_ACTIVE).update(state="lost")


class Migration(migrations.Migration):

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("workshop", "0003_packed_revisions"),
    ]

    operations = [
        migrations.CreateModel(
            "Workshop",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("current", models.PositiveIntegerField(default=0)),
                ("latest", models.PositiveIntegerField(default=0)),
                (
                    "owner",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="workshop",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={"abstract": False},
        ),
        migrations.CreateModel(
            "ShopState",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("number", models.PositiveIntegerField()),
                ("packed", models.BinaryField()),
                ("edit", models.BinaryField(default=bytes)),
                ("says", models.CharField(max_length=120)),
                ("created", models.DateTimeField(auto_now_add=True)),
                (
                    "author",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "workshop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="shops", to="workshop.workshop"
                    ),
                ),
            ],
            options={
                "ordering": ["number"],
                "abstract": False,
                "constraints": [models.UniqueConstraint(fields=("workshop", "number"), name="one_shop_a_number")],
            },
        ),
        migrations.RemoveConstraint("run", "one_run_a_machine"),
        migrations.AlterField("run", "machine", models.CharField(max_length=60)),
        migrations.AddField("run", "address", models.CharField(default="", max_length=80), preserve_default=False),
        migrations.RunPython(name_addresses, migrations.RunPython.noop),
        migrations.AddIndex("run", models.Index(fields=["address", "state"], name="runs_at_an_address")),
        migrations.AddConstraint(
            "run",
            models.UniqueConstraint(
                condition=models.Q(("state__in", _ACTIVE)), fields=("project",), name="one_run_a_project"
            ),
        ),
        migrations.AddConstraint(
            "run",
            models.UniqueConstraint(
                condition=models.Q(("state__in", _ACTIVE), ("taken__isnull", False)),
                fields=("address",),
                name="one_run_at_an_address",
            ),
        ),
    ]
