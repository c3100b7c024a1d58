"""Whether somebody said a setup's light, and what of it the start of its kind holds.

Of setups that are there already the light counts as said; framing was held from the start.
"""

from typing import Any

from django.db import migrations, models

FRAMING = ("focal_mm", "subject_distance_m", "lens")


def framing_from_start(apps: Any, schema_editor: Any) -> None:
    """Framing that is held was held from the start: nobody can tell who pressed it."""
    rows = apps.get_model("shoots", "Setup").objects.only("pk", "held")
    changed = []
    for row in rows.iterator(chunk_size=500):
        row.held_from_start = sorted(set(row.held) & set(FRAMING))
        changed.append(row)
        if len(changed) == 500:
            rows.model.objects.bulk_update(changed, ["held_from_start"])
            changed.clear()
    rows.model.objects.bulk_update(changed, ["held_from_start"])


class Migration(migrations.Migration):
    dependencies = [("shoots", "0017_deleted")]
    operations = [
        migrations.AddField("setup", "light_said", models.BooleanField(default=True)),
        migrations.AddField("setup", "held_from_start", models.JSONField(default=list)),
        migrations.RunPython(framing_from_start, migrations.RunPython.noop),
    ]
