"""The planner's rows under one axis, marks of verdicts, and names in the modelled picture."""

import pytest

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.spec.readings import Reading, Shape
from fotonomy.figures.monitor.reading_holds import reading_holds
from fotonomy.figures.planner.plan_rows import axis_figure, plan_figure
from fotonomy.figures.planner.small_budget import small_budget_figure, span_of
from fotonomy.figures.svg import Drawing, Size, text_width
from tests.core.examples import setup
from tests.figures.test_figures import boxes, parse


def test_plans_share_one_scale() -> None:
    budgets = [analyse(setup(iris=n)).budget for n in (2.8, 16)]
    span = span_of(budgets)
    light = [boxes(parse(small_budget_figure(b, span, "x")), "gives")[0][1] for b in budgets]
    assert light[0] == light[1]
    rows = [parse(plan_figure(b, span, Size(400), "x")) for b in budgets]
    assert boxes(rows[0], "gives")[0][1] == boxes(rows[1], "gives")[0][1]
    # The mark of each lies under its own balance, and the axis says where the target is.
    axis = parse(axis_figure(span, Size(400)))
    target = next(t for t in axis.iter("text") if t.text == "target")
    at = [float(row.find("line[@class='target-line']").get("x1")) for row in rows]
    assert at[0] == at[1]
    assert abs(float(target.get("x")) - at[0]) < 30
    marks = [
        m
        for row in rows
        for m in row.iter()
        if "mark " in m.get("class", "") or "cross" in m.get("class", "")
    ]
    assert marks


@pytest.mark.parametrize(
    ("kind", "shape"),
    [("good", "circle"), ("unsaid", "circle"), ("warn", "polygon"), ("bad", "line")],
)
def test_a_verdict_has_one_shape_everywhere(kind: str, shape: str) -> None:
    drawing = Drawing(40, 40, "x", "y")
    drawing.verdict_mark(20, 20, 6, kind)
    assert {one.tag for one in parse(drawing.render()) if kind in one.get("class")} == {shape}


def test_names_in_the_picture_stand_on_their_own_regions() -> None:
    """A band's name beside what stands before it, a thing's name on the thing."""
    readings = (
        Reading(name="water", stops=0.0, shape=Shape.GROUND),
        Reading(name="sky", stops=2.0, shape=Shape.BAND, x_percent=50, y_percent=15),
        Reading(
            name="hull", stops=1.0, shape=Shape.PATCH, x_percent=50, y_percent=55, share_percent=14
        ),
    )
    size = Size(460, 260)
    root = parse(reading_holds(readings, size))
    holds = {int(one.get("data-reading")): one for one in root.iter("rect")}
    names = {one.text.split()[0]: one for one in root.iter("text")}
    hull = [float(holds[2].get(name)) for name in ("x", "width")]
    half = text_width(names["sky"].text, "by-bar") / 2
    at = float(names["sky"].get("x"))
    assert at + half <= hull[0] or at - half >= hull[0] + hull[1]
    top, tall = float(holds[1].get("y")), float(holds[1].get("height"))
    assert top <= float(names["sky"].get("y")) <= top + tall
    y = float(names["hull"].get("y"))
    assert float(holds[2].get("y")) <= y <= float(holds[2].get("y")) + float(holds[2].get("height"))
