"""A shoot has places and days; every shoot so far becomes one of each, and its setups are there."""

from datetime import time

import django.db.models.deletion
from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

WHERE = ("latitude_deg", "longitude_deg", "time_zone", "mains_hz")
MAINS_HZ = [(50, "50 Hz"), (60, "60 Hz")]


def forward(apps: Apps, _: BaseDatabaseSchemaEditor) -> None:
    model = {name: apps.get_model("shoots", name) for name in ("Shoot", "Place", "Day", "Setup")}
    for shoot in model["Shoot"].objects.all():
        where = {name: getattr(shoot, name) for name in WHERE}
        place = model["Place"].objects.create(shoot=shoot, name=shoot.place_name, **where)
        day = model["Day"].objects.create(shoot=shoot, date=shoot.date)
        model["Setup"].objects.filter(shoot=shoot).update(place=place, day=day)


def back(apps: Apps, _: BaseDatabaseSchemaEditor) -> None:
    shoots = apps.get_model("shoots", "Shoot").objects
    for shoot in shoots.all():
        place, day = shoot.places.first(), shoot.days.first()
        for name in WHERE:
            setattr(shoot, name, getattr(place, name))
        shoot.place_name, shoot.date = place.name, day.date
        shoot.save()


class Migration(migrations.Migration):
    dependencies = [("shoots", "0009_where_is_optional")]

    operations = [
        migrations.AlterModelOptions("shoot", {"ordering": ["name", "pk"]}),
        migrations.CreateModel(
            "Place",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.PositiveIntegerField(default=0)),
                ("name", models.CharField(blank=True, max_length=80)),
                ("latitude_deg", models.FloatField("latitude", blank=True, null=True)),
                ("longitude_deg", models.FloatField("longitude", blank=True, null=True)),
                ("height_m", models.FloatField("height", default=0.0)),
                ("time_zone", models.CharField(default="UTC", max_length=64)),
                (
                    "mains_hz",
                    models.PositiveSmallIntegerField("mains", choices=MAINS_HZ, default=50),
                ),
                ("own_ev100", models.FloatField("own light", blank=True, null=True)),
                ("horizon", models.JSONField(blank=True, default=list)),
                ("opens", models.TimeField("open from", blank=True, null=True)),
                ("closes", models.TimeField("open until", blank=True, null=True)),
                ("permission", models.CharField(blank=True, max_length=200)),
                ("cautions", models.CharField(blank=True, max_length=400)),
                ("notes", models.TextField(blank=True, max_length=4000)),
                ("shoot", models.ForeignKey("shoots.Shoot", models.CASCADE, related_name="places")),
            ],
            options={"ordering": ["position", "pk"]},
        ),
        migrations.CreateModel(
            "Day",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("date", models.DateField()),
                ("call", models.TimeField(default=time(6))),
                ("wrap", models.TimeField(default=time(0))),
                ("shoot", models.ForeignKey("shoots.Shoot", models.CASCADE, related_name="days")),
            ],
            options={"ordering": ["date", "pk"]},
        ),
        migrations.CreateModel(
            "Scene",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.PositiveIntegerField(default=0)),
                ("code", models.CharField(max_length=6)),
                ("title", models.CharField(blank=True, max_length=80)),
                ("story", models.CharField(blank=True, max_length=400)),
                ("shoot", models.ForeignKey("shoots.Shoot", models.CASCADE, related_name="scenes")),
            ],
            options={"ordering": ["position", "pk"]},
        ),
        migrations.CreateModel(
            "Way",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("minutes", models.FloatField()),
                ("shoot", models.ForeignKey("shoots.Shoot", models.CASCADE, related_name="ways")),
                (
                    "start",
                    models.ForeignKey("shoots.Place", models.CASCADE, related_name="ways_from"),
                ),
                ("end", models.ForeignKey("shoots.Place", models.CASCADE, related_name="ways_to")),
            ],
            options={"ordering": ["pk"]},
        ),
        migrations.AddConstraint(
            "way",
            models.UniqueConstraint(fields=("start", "end"), name="one_way_between_two_places"),
        ),
        migrations.CreateModel(
            "LightReading",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("at", models.DateTimeField()),
                ("ev100", models.FloatField()),
                (
                    "place",
                    models.ForeignKey(
                        "shoots.Place", models.CASCADE, related_name="light_readings"
                    ),
                ),
            ],
            options={"ordering": ["at"]},
        ),
        migrations.AddField(
            "setup",
            "place",
            models.ForeignKey("shoots.Place", models.CASCADE, related_name="setups", null=True),
        ),
        migrations.AddField(
            "setup",
            "day",
            models.ForeignKey("shoots.Day", models.CASCADE, related_name="setups", null=True),
        ),
        migrations.AddField(
            "setup",
            "scene",
            models.ForeignKey(
                "shoots.Scene",
                django.db.models.deletion.SET_NULL,
                related_name="setups",
                blank=True,
                null=True,
            ),
        ),
        migrations.AddField("setup", "looks_deg", models.FloatField(blank=True, null=True)),
        migrations.AddField("setup", "schedule", models.JSONField(default=dict)),
        migrations.AddField(
            "setup",
            "shot_size",
            models.CharField(
                blank=True,
                max_length=8,
                choices=[
                    ("wide", "wide"), ("medium", "medium"), ("close", "close"),
                    ("detail", "detail"), ("cutaway", "cutaway"),
                ],
            ),
        ),
        migrations.RunPython(forward, back),
    ]
