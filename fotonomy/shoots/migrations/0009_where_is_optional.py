"""A shoot without a place has no latitude and longitude, where it had 0° 0°."""

from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def forward(apps: Apps, _: BaseDatabaseSchemaEditor) -> None:
    shoots = apps.get_model("shoots", "Shoot").objects
    shoots.filter(latitude_deg=0.0, longitude_deg=0.0).update(
        latitude_deg=None, longitude_deg=None
    )


def back(apps: Apps, _: BaseDatabaseSchemaEditor) -> None:
    shoots = apps.get_model("shoots", "Shoot").objects
    shoots.filter(latitude_deg=None).update(latitude_deg=0.0)
    shoots.filter(longitude_deg=None).update(longitude_deg=0.0)


class Migration(migrations.Migration):
    dependencies = [("shoots", "0008_white_left_on_auto")]

    operations = [
        migrations.AlterField(
            "shoot", "latitude_deg", models.FloatField("latitude", null=True, blank=True)
        ),
        migrations.AlterField(
            "shoot", "longitude_deg", models.FloatField("longitude", null=True, blank=True)
        ),
        migrations.RunPython(forward, back),
    ]
