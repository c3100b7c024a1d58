"""Batteries as printed, what hangs on what, and bodies that end a bulb or keep their lens."""

from dataclasses import replace
from typing import Any

import pytest

from fotonomy.core.findings.finding import Severity
from fotonomy.core.motion.shutter import Shutter
from fotonomy.core.plan import plan
from fotonomy.core.spec.changes import applied
from fotonomy.kit.forms.accessory import AccessoryForm
from fotonomy.kit.models import Accessory, Body
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Shoot
from fotonomy.shoots.packed_kit import packed_kit
from tests.core.run_examples import CAM, ids, interval, long_exposure
from tests.web.test_kit import BODY

pytestmark = pytest.mark.django_db
PACK = {"sort": "battery", "name": "Power pack", "energy_wh": "10 000 mAh at 3.7 V", "count": "2",
        "external": "on", "loss_percent": "15"}  # fmt: skip


def test_a_pack_as_printed_on_it(demo_client: Any, demo: Shoot) -> None:
    assert demo_client.post("/kit/accessory/new/", PACK).status_code == 302
    row = Accessory.objects.get(name="Power pack")
    # 10 Ah at 3.7 V are 37 Wh; less 15 % and twice 62.9 Wh.
    assert (row.energy_wh, row.count, row.loss_percent) == (37.0, 2, 15.0)
    assert row.to_device().usable_wh == pytest.approx(62.9)  # type: ignore[union-attr]
    page = demo_client.get("/kit/").content.decode()
    assert "2 of 37 Wh, external pack, 15 % lost stepped up" in page
    # What the form shows can be sent back as it stands.
    shown = AccessoryForm(instance=row, owner=row.owner)
    again = {name: shown[name].value() or "" for name in shown.fields}
    texts = {k: shown.fields[k].prepare_value(v) if hasattr(shown.fields[k], "parse") else v
             for k, v in again.items()}  # fmt: skip
    assert (
        demo_client.post(f"/kit/accessory/{row.pk}/", {**texts, "external": "on"}).status_code
        == 302
    )
    row.refresh_from_db()
    assert (row.energy_wh, row.count) == (37.0, 2)


@pytest.mark.parametrize(
    ("field", "text", "words"),
    [("energy_wh", "10000 mAh", "mAh at 3.7 V"), ("count", "0", "from 1 to 100"),
     ("loss_percent", "99", "from 0 to 60"), ("energy_wh", "", "needs a value")],
)  # fmt: skip
def test_wrong_energy_is_said_beside_its_field(
    demo_client: Any, demo: Shoot, field: str, text: str, words: str
) -> None:
    answer = demo_client.post("/kit/accessory/new/", {**PACK, field: text})
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert not Accessory.objects.filter(name="Power pack").exists()


def test_a_monitor_hangs_on_what_it_is_said_to(demo_client: Any, demo: Shoot) -> None:
    typed = {"sort": "heater", "name": "Monitor", "power_w": "9", "fed_by": "camera"}
    assert demo_client.post("/kit/accessory/new/", typed).status_code == 302
    row = Accessory.objects.get(name="Monitor")
    assert row.to_device().fed_by == "camera"  # type: ignore[union-attr]
    assert "9 W from the camera" in demo_client.get("/kit/").content.decode().replace("&#x27;", "'")


def test_a_body_that_ends_a_bulb_and_keeps_its_lens(demo_client: Any, demo: Shoot) -> None:
    typed = {**BODY, "longest_bulb_s": "1 h", "still_height_mm": "17,3", "fixed_lens": "on"}
    assert demo_client.post("/kit/body/new/", typed).status_code == 302
    spec = Body.objects.get(name="C-cam").to_spec()
    assert (spec.longest_bulb_s, spec.still_height_mm, spec.fixed_lens) == (3600, 17.3, True)
    wrong = demo_client.post("/kit/body/new/", {**typed, "name": "D", "longest_bulb_s": "ever"})
    assert wrong.status_code == 422
    assert "such as 1 h or 30 min" in wrong.content.decode()


def test_a_bulb_longer_than_the_body_holds_is_said_before_it_is_programmed() -> None:
    # Common practice, no source: some bodies end a bulb exposure after an hour.
    body = replace(CAM, longest_bulb_s=3600.0)
    spec = long_exposure(body=body, shutter=Shutter(time_s=7200))
    found = {f.id: f for f in plan(spec).findings}["shutter.bulb_too_long"]
    assert (found.severity, found.number) == (Severity.STOP, 3600)
    for fix in found.fixes:
        mended = applied(spec, fix.changes)
        assert mended.time_s <= 3600
        assert "shutter.bulb_too_long" not in ids(plan(mended))
    assert "shutter.bulb_too_long" not in ids(plan(long_exposure(shutter=Shutter(time_s=7200))))
    run = interval(body=body, shutter=Shutter(time_s=3700), frame_rate=1 / 4000)
    assert "shutter.bulb_too_long" in ids(plan(run))


def test_the_demos_light_is_that_of_its_hours(demo: Shoot) -> None:
    for row in demo.setups.all():
        planned = plan(spec_of(row, packed_kit(demo)))
        assert planned.analysis.setup.starts is not None
        assert "light.hour" not in ids(planned), row
