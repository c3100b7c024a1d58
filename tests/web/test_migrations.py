"""A database from before this version comes along whole: gear, what it fits, what was held."""

from typing import Any

import pytest
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from tests.demo_copy import emptied

OLD = [("kit", "0001_initial"), ("shoots", "0001_initial")]


def migrate(targets: list[tuple[str, str]]) -> Any:
    executor = MigrationExecutor(connection)
    executor.migrate(targets)
    return MigrationExecutor(connection).loader.project_state(targets).apps


@pytest.mark.django_db(transaction=True)
def test_gear_and_setups_from_before_formats() -> None:
    latest = [leaf for leaf in MigrationExecutor(connection).loader.graph.leaf_nodes()
              if leaf[0] in ("kit", "shoots")]  # fmt: skip
    # From nothing there is half the way to go.
    if not emptied():
        call_command("flush", interactive=False, verbosity=0)
    apps = migrate(OLD)
    try:
        owner = apps.get_model("auth", "User").objects.create(username="old hand")
        body = apps.get_model("kit", "Body").objects.create(
            owner=owner, name="Old cam", sensor_width_mm=13.2, sensor_height_mm=7.4, width_px=1920,
            height_px=1080, rates=[[25, 50], [50, 100]], drive_rates_fps=[5], shutter_style="time",
        )  # fmt: skip
        lens = apps.get_model("kit", "Lens").objects.create(
            owner=owner, name="Old 50", focal_shortest_mm=50, focal_longest_mm=50, widest_f=2,
            smallest_f=16, thread_mm=58,
        )  # fmt: skip
        profile = apps.get_model("kit", "Profile").objects.create(
            owner=owner, name="Video", curve="bt709", clip_percent=109
        )
        filters = apps.get_model("kit", "Filter").objects
        filters.create(owner=owner, name="ND", kind="nd", density=0.9, thread_mm=77)
        filters.create(owner=owner, name="Square", kind="nd", density=0.6)
        shoot = apps.get_model("shoots", "Shoot").objects.create(
            owner=owner, name="Old", date="2026-01-01"
        )
        row = apps.get_model("shoots", "Setup").objects.create(
            shoot=shoot, light={"ev100": 12}, body=body, lens=lens, profile=profile, focal_mm=50,
            frame_rate=25, shutter_time_s=0.02, iris=4, iso=100, held=["iris"],
        )  # fmt: skip
        step = {str(row.pk): {"held": ["iso"], "iris": 4}}
        apps.get_model("shoots", "Change").objects.create(
            shoot=shoot, label="ISO", before=step, after={str(row.pk): None}
        )
        was = {"iris": 4, "tubes": [7], "shutter_angle_deg": None, "shutter_time_s": 0.02,
               "held": ["iris"]}  # fmt: skip
        now = {**was, "iris": 5.6, "tubes": [], "shutter_angle_deg": 180.0, "shutter_time_s": None}
        apps.get_model("shoots", "Change").objects.create(
            shoot=shoot,
            label="iris",
            before={str(row.pk): was},
            after={str(row.pk): now},
            undone=True,
        )
    finally:
        migrate(latest)
    from fotonomy.kit.models import Accessory, Body, Filter
    from fotonomy.shoots.field_paths import WHOLE
    from fotonomy.shoots.mapping import spec_of
    from fotonomy.shoots.models import Change, Setup
    from fotonomy.shoots.packed_kit import packed_kit

    old = Body.objects.get(name="Old cam").to_spec()
    assert [(f.name, f.width_px, len(f.rates)) for f in old.formats] == [("Standard", 1920, 2)]
    assert [mode.fps for mode in old.drive_modes] == [5]
    assert {thing.name for thing in Accessory.objects.all()} == {"Step ring 58 to 77", "Matte box"}
    assert Filter.objects.get(name="Square").mount == "square"
    kept = Setup.objects.get()
    assert set(kept.held) == {"iris", "focal_mm", "subject_distance_m", "lens"}
    # 0° 0° was said by nobody.
    assert (kept.place.latitude_deg, kept.place.longitude_deg) == (None, None)
    spec = spec_of(kept, packed_kit(kept.shoot))
    assert all(piece.fits(spec.front) for piece in spec.glass)
    gone, stopped = Change.objects.order_by("pk")
    ((key, path, before, after),) = gone.fields
    assert (key, path, after) == (kept.pk, WHOLE, None)
    assert set(before["held"]) == {"iso", "focal_mm", "subject_distance_m", "lens"}
    # A step between two snapshots becomes its columns, its tubes what hangs on the camera.
    assert {path: (was, now) for _, path, was, now in stopped.fields} == {
        "iris": (4, 5.6), "things": ([7], []), "shutter": ([None, 0.02], [180.0, None]),
    }  # fmt: skip
    assert (stopped.undone, stopped.last_act) == (True, None)
    # The one key reading is the first of many, in the setup and in what can be undone.
    assert [(r["name"], r["stops"], r["key"]) for r in kept.readings] == [("skin", 1.4, True)]
    assert spec.readings[0].surface.is_skin
    assert before["readings"] == kept.readings
