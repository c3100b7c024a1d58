"""Light typed without a network: what the script reads is what the core reads, or it reads nothing."""

import pytest

from fotonomy.core.errors import RuleError
from fotonomy.core.field.relight import read_light
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.photometry.named_light import ev_by_name
from tests.core.examples import setup
from tests.scripts.node import run_script

PLANNED = 12.0
NAMES = ev_by_name()
TYPED = (
    "+1", "-1", "−1 1/3", "+2/3", "-0,5", "+ 1/3", "-3 2/3", "EV 9", "ev9", "9 EV", "9", "-6", "−6 EV",
    "11,5", "EV -2.5", "", "?", "+", "-", "banana", "1/50", "120 lux", "f/2.8 1/50 ISO 6400", "38 %",
    "face 38 %", "++1", "1e999", "nan", "+1 stop", "-1 EV", "+2 stops", "+30", "+1/9", "EV9 EV", "EV −6", "Overcast", "overcast ", "Night  Street",
    *NAMES,
)  # fmt: skip


def core(text: str) -> float | None:
    try:
        return read_light(setup(light=Ev100(PLANNED)), text)
    except RuleError:
        return None


def test_the_script_reads_as_the_core_does_or_not_at_all() -> None:
    found = run_script(
        "typed-light.js", "fotonomy.typedLight.read", [[text, PLANNED, NAMES] for text in TYPED]
    )
    read = 0
    for text, ours in zip(TYPED, found, strict=True):
        if ours is not None:
            read += 1
            assert ours == pytest.approx(core(text)), text
    # Whatever it is there for is read.
    assert {"+1", "−1 1/3", "9 EV", "11,5", "sunny", "cloudy", "Night  Street", "stars"} <= {
        t for t, o in zip(TYPED, found, strict=True) if o is not None
    }
    assert read >= 14 + len(NAMES)


def test_what_is_no_light_is_left_to_the_server() -> None:
    texts = ["", "?", "+", "banana", "++1", "1e999", "nan", "1/50", "120 lux", "38 %"]
    found = run_script(
        "typed-light.js", "fotonomy.typedLight.read", [[text, PLANNED, NAMES] for text in texts]
    )
    assert found == [None] * len(texts)
