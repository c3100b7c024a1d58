"""What is held, limits and the light to come take the names of the spec's fields."""

from django.db import migrations

HELD = {"nd": "nd_density", "focal": "focal_mm", "distance": "subject_distance_m"}
PARTS = ("held", "limits", "run")


def renamed(part, value, names, light):
    """One of the parts with the names it is to have; ``light`` are old and new of the curve."""
    if part == "held":
        return sorted({names.get(name, name) for name in value})
    if part == "limits":
        return [{**one, "setting": names.get(one["setting"], one["setting"])} for one in value]
    return {(light[1] if key == light[0] else key): given for key, given in value.items()}


def rename(apps, names, light):
    for row in apps.get_model("shoots", "Setup").objects.all().iterator():
        for part in PARTS:
            setattr(row, part, renamed(part, getattr(row, part), names, light))
        row.save(update_fields=PARTS)
    for change in apps.get_model("shoots", "Change").objects.all().iterator():
        for side in (change.before, change.after):
            for snapshot in filter(None, side.values()):
                for part in PARTS:
                    if part in snapshot:
                        snapshot[part] = renamed(part, snapshot[part], names, light)
        change.save(update_fields=["before", "after"])


def forward(apps, schema_editor):
    rename(apps, HELD, ("light", "light_curve"))


def backward(apps, schema_editor):
    rename(apps, {new: old for old, new in HELD.items()}, ("light_curve", "light"))


class Migration(migrations.Migration):
    dependencies = [("shoots", "0004_runs")]
    operations = [migrations.RunPython(forward, backward)]
