"""Lines and areas under the places of a shoot."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shoots", "0018_said_and_started")]
    operations = [
        migrations.CreateModel(
            name="Outline",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=80)),
                ("shapes", models.JSONField(default=list)),
                (
                    "shoot",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="outlines",
                        to="shoots.shoot",
                    ),
                ),
            ],
            options={"ordering": ["pk"]},
        ),
    ]
