"""Where and when a shoot is stands with its places and days alone."""

from datetime import date

from django.db import migrations, models


class Migration(migrations.Migration):
    # Apart from the one before: PostgreSQL alters no table whose rows were just written.
    dependencies = [("shoots", "0010_places_and_days")]

    operations = [
        migrations.AlterField(
            "setup",
            "place",
            models.ForeignKey("shoots.Place", models.RESTRICT, related_name="setups"),
        ),
        migrations.AlterField(
            "setup",
            "day",
            models.ForeignKey("shoots.Day", models.RESTRICT, related_name="setups"),
        ),
        # With defaults, so that the way back has something to put there.
        migrations.AlterField("shoot", "date", models.DateField(default=date(2000, 1, 1))),
        *(
            migrations.RemoveField("shoot", name)
            for name in (
                "date", "place_name", "latitude_deg", "longitude_deg", "time_zone", "mains_hz",
            )
        ),
    ]
