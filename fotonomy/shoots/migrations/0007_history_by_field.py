"""Steps as lists of fields instead of pairs of snapshots, with who made them and when."""

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models

SHUTTER = ("shutter_angle_deg", "shutter_time_s")


def fields_of(before, after):
    """Whole columns as fields: a step of old is taken back column by column."""
    found = []
    for key, now in after.items():
        was = before.get(key)
        if was is None or now is None:
            found.append([int(key), "", was, now])
            continue
        for side in (was, now):
            # Before there were devices, a snapshot named its tubes only.
            if "things" not in side and "tubes" in side:
                side["things"] = side.pop("tubes")
        for name in was.keys() & now.keys():
            if name not in SHUTTER and was[name] != now[name]:
                found.append([int(key), name, was[name], now[name]])
        sides = [[side.get(column) for column in SHUTTER] for side in (was, now)]
        if sides[0] != sides[1]:
            found.append([int(key), "shutter", *sides])
    return found


def forward(apps, schema_editor):
    Change = apps.get_model("shoots", "Change")
    undone = {}
    for change in Change.objects.order_by("-pk").iterator():
        change.fields = fields_of(change.before, change.after)
        # The oldest undone step is the first to be done again.
        undone[change.shoot_id] = undone.get(change.shoot_id, 0) + change.undone
        change.save(update_fields=["fields"])
    for shoot in (key for key, count in undone.items() if count > 1):
        steps = list(Change.objects.filter(shoot=shoot, undone=True).order_by("pk"))
        for step, act in zip(steps, sorted((s.pk for s in steps), reverse=True), strict=True):
            step.last_act = act
            step.save(update_fields=["last_act"])


class Migration(migrations.Migration):
    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("shoots", "0006_summaries"),
    ]
    operations = [
        migrations.RemoveIndex("change", "shoots_chan_shoot_i_8a481a_idx"),
        migrations.AddField("change", "fields", models.JSONField(default=list)),
        migrations.AddField("change", "last_act", models.BigIntegerField(null=True)),
        migrations.AddField(
            "change", "author",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+",
                to=settings.AUTH_USER_MODEL,
            ),
        ),
        migrations.AddField("change", "client", models.CharField(blank=True, max_length=32)),
        migrations.AddField("change", "action", models.CharField(blank=True, max_length=36)),
        migrations.AddField(
            "change", "at",
            models.DateTimeField(auto_now_add=True, default=django.utils.timezone.now),
            preserve_default=False,
        ),
        migrations.AddField(
            "change", "of",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="acts",
                to="shoots.change",
            ),
        ),
        migrations.AddField("change", "undone_by", models.CharField(blank=True, max_length=32)),
        migrations.AddField("change", "forgotten", models.BooleanField(default=False)),
        migrations.RunPython(forward, migrations.RunPython.noop),
        migrations.RemoveField("change", "before"),
        migrations.RemoveField("change", "after"),
        migrations.AddIndex(
            "change",
            models.Index(
                fields=["shoot", "undone"], name="shoots_chan_shoot_i_f91544_idx"
            ),
        ),
    ]
