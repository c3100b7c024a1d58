"""Drawings of what was shot: read back as markup, on a desk and on a phone."""

from typing import Any

import numpy as np
import pytest

from fotonomy.core.pictures.frame_measure import Seen
from fotonomy.core.pictures.run import RunFrame, RunPlan, Sort, report
from fotonomy.figures.svg import PHONE_PX, Size
from fotonomy.figures.takes.kept import KeptRow, LightDot, kept_drawing, light_drawing
from fotonomy.figures.takes.run import run_drawing
from tests.figures.test_figures import parse, texts

DESK, PHONE = Size(860.0), Size(362.0, 0, PHONE_PX)
PLAN = RunPlan(interval_s=10, frames=40, project_fps=25, delivered_px=3840)


def frames(count: int = 40, lost_at: int | None = 20, known: bool = True) -> list[RunFrame]:
    """Even frames, one of them brighter, one knocked, one lost before it."""
    found = []
    for k in range(count):
        late = 10 if lost_at is not None and k >= lost_at else 0
        seen = Seen(0.3 if k == 8 else 0.0, 0.0, 0.01 if k == 30 else 0.0, 0.0, 0.0)
        found.append(RunFrame(
            seen, 10.0 * k + late if known else None, -5.0 if known else None, k, 0.02
        ))  # fmt: skip
    return found


def inside(root: Any, size: Size) -> None:
    """Every number is one, and nothing is drawn beside the picture."""
    tall = float(root.get("height"))
    for one in root.iter("rect"):
        x, y, wide, high = (float(one.get(name)) for name in ("x", "y", "width", "height"))
        assert np.isfinite([x, y, wide, high]).all()
        assert x >= -1
        assert x + wide <= size.width + 1
        assert y >= -1
        assert y + high <= tall + 1
    for one in root.iter("text"):
        assert -1 <= float(one.get("x")) <= size.width + 1
        assert 0 <= float(one.get("y")) <= tall


@pytest.mark.parametrize("size", [DESK, PHONE])
def test_a_run_shows_each_event_at_its_frame(size: Size) -> None:
    found = report(frames(), PLAN)
    root = parse(run_drawing(found, size, "things <happened>"))
    inside(root, size)
    assert "things <happened>" in root.get("aria-label")
    pins = [one for one in root.iter("text") if "verdict" in one.get("class", "")]
    assert [one.text for one in pins] == ["1", "2", "3"]
    lost = [one for one in root.iter("rect") if one.get("class") == "lost"]
    # One bar of flicker, one of a gap; the gap's stands under its pin.
    assert len(lost) == 2
    assert float(lost[1].get("x")) + 2 == pytest.approx(float(pins[1].get("x")), abs=0.2)
    # The light goes up at the eighth frame by 0.3 of the 0.5 stops that are shown at least.
    (curve,) = [one for one in root.iter("path") if one.get("class") == "curve"]
    heights = [float(part.split(" ")[1]) for part in curve.get("d")[1:].split("L")]
    assert int(np.argmin(heights)) == 8
    assert (max(heights) - min(heights)) / (96 - 12) == pytest.approx(0.3 / 0.5, abs=0.01)
    assert "38 px" in texts(root)


@pytest.mark.parametrize("size", [DESK, PHONE])
def test_a_run_without_a_clock_or_notes_is_drawn(size: Size) -> None:
    bare = [
        RunFrame(Seen(0.0, 0.0), None, None, None, None) for _ in range(5)
    ]  # fmt: skip
    root = parse(run_drawing(report(bare, PLAN), size, "nothing"))
    inside(root, size)
    assert "not told" in texts(root)
    assert not [one for one in root.iter("path") if one.get("class") == "was-set"]


def test_pins_that_stand_too_close_keep_their_line_alone() -> None:
    many = [
        RunFrame(Seen(0.3 if k in (50, 51, 100) else 0.0, 0.0, 0.0, 0.0, 0.0), 10.0 * k)
        for k in range(900)
    ]
    found = report(many, PLAN)
    assert len(found.of(Sort.FLICKER)) == 3
    root = parse(run_drawing(found, PHONE, ""))
    pins = [one.text for one in root.iter("text") if "verdict" in one.get("class", "")]
    assert pins == ["1", "3"]
    assert len([one for one in root.iter("line") if one.get("class") == "joint"]) == 3


@pytest.mark.parametrize("size", [DESK, PHONE])
def test_what_was_kept_is_a_dot_in_its_range(size: Size) -> None:
    rows = (
        KeptRow("50 mm & <more> by hand", 0.9, 0.6, 0.98, "9 of 10", enough=True),
        KeptRow("few", 1.0, 0.2, 1.0, "1 of 1", enough=False),
    )
    root = parse(kept_drawing("By hand", rows, size))
    inside(root, size)
    bars = [one for one in root.iter("rect") if one.get("class") in ("takes", "few")]
    assert [one.get("class") for one in bars] == ["takes", "few"]
    dots = [float(one.get("cx")) for one in root.iter("circle")]
    left, wide = float(bars[0].get("x")), float(bars[0].get("width"))
    # 0.6 to 0.98: the dot of 0.9 stands at 0.3 of 0.38.
    assert (dots[0] - left) / wide == pytest.approx(0.3 / 0.38, abs=0.01)
    assert "9 of 10" in texts(root)


@pytest.mark.parametrize("size", [DESK, PHONE])
def test_light_that_was_read_stands_over_the_suns_height(size: Size) -> None:
    dots = (LightDot(-8.0, 1.4, "dusk"), LightDot(20.0, -0.6, "day"), LightDot(60.0, 0.0, "noon"))
    root = parse(light_drawing(dots, size))
    inside(root, size)
    xs = [float(one.get("cx")) for one in root.iter("circle")]
    ys = [float(one.get("cy")) for one in root.iter("circle")]
    assert xs == sorted(xs)
    assert ys[0] < ys[2] < ys[1]
    (line,) = [one for one in root.iter("line") if one.get("class") == "target-line"]
    assert float(line.get("y1")) == pytest.approx(ys[2])
