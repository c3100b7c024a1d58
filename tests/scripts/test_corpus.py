"""The scripts' readers against the core's, over every text of the corpus: alike, or refused."""

import math
from typing import Any

import pytest

from fotonomy.core.drill.answers import Amount
from fotonomy.core.errors import RuleError
from fotonomy.core.field.relight import read_light
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.photometry.named_light import NAMED_LIGHTS
from tests.core.examples import setup
from tests.scripts.corpus import amounts, lights
from tests.scripts.node import run_script

PLANNED = 12.0
NAMES = {light.name: light.ev100 for light in NAMED_LIGHTS}


def light_of(text: str) -> float | None:
    """What the core reads of a light; None for what is none."""
    try:
        return read_light(setup(light=Ev100(PLANNED)), text)
    except RuleError:
        return None


def test_a_light_is_read_as_the_core_reads_it_or_left_to_the_server() -> None:
    texts = lights()
    assert len(texts) >= 400
    found = run_script(
        "typed-light.js", "fotonomy.typedLight.read", [[text, PLANNED, NAMES] for text in texts]
    )
    wrong = {
        text: (ours, core)
        for text, ours in zip(texts, found, strict=True)
        if ours is not None and ((core := light_of(text)) is None or abs(core - ours) > 1e-9)
    }
    assert wrong == {}
    # And what people say at the spot is read without the server.
    read = {text for text, ours in zip(texts, found, strict=True) if ours is not None}
    assert {"+1", "-1 1/3", "−2/3", "+0,5", "EV 9", "9 ev", "11,5", "EV −2", "overcast"} <= read


@pytest.mark.parametrize(
    ("unit", "glass"),
    [*((unit, False) for unit in ("stops", "EV", "%", "s", "GB", "frames")), ("stops", True)],
)
def test_an_amount_is_read_as_the_core_reads_it_and_no_other_way(unit: str, glass: bool) -> None:
    """An answer is graded on the phone: there it is read as the core does, or not at all."""
    amount = Amount(1.0, unit, -1e6, 1e6, glass=glass)
    texts = amounts()
    assert len(texts) >= 400
    rule: dict[str, Any] = {"unit": unit, "glass": glass}
    found = run_script("grading.js", "fotonomy.grading.read", [[text, rule] for text in texts])
    wrong, read = {}, 0
    for text, ours in zip(texts, found, strict=True):
        try:
            core: float | None = amount.read(text)
        except RuleError:
            core = None
        ours = None if ours == "NaN" or ours is None or abs(ours) > 1e6 else ours
        read += ours is not None
        # Digits of another script than ours are left to the server.
        alike = core is None or "٣" in text if ours is None else (
            core is not None and math.isclose(core, ours, rel_tol=1e-9, abs_tol=1e-12)
        )  # fmt: skip
        if not alike:
            wrong[text] = (ours, core)
    assert wrong == {}
    assert read >= 20
