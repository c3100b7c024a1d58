"""What a held setting costs: one search with that one free, against the best plan as it is."""

from dataclasses import replace

import pytest

from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.plan import plans_for
from fotonomy.core.planner.letting_go import WORTH_SCORE, let_go
from fotonomy.core.planner.search import Search
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import EMPHASIS_WORDS, emphasis_word
from tests.core.examples import setup


def test_a_held_iris_that_forces_the_iso_up_is_worth_letting_go() -> None:
    # EV 6, 1/50 and f/8 want ISO 3200 and more; an open iris brings it down.
    dim = setup(
        light=Ev100(6.0), iris=8.0, iso=100, held=frozenset({"iris", "shutter", "frame_rate"})
    )
    best = plans_for(dim).best
    assert best is not None
    found = {one.setting: one for one in let_go(dim, best)}
    assert set(found) == {"frame_rate", "shutter", "iris"}
    iris = found["iris"]
    assert iris.here == "f/8"
    assert any("less gain" in text for text in iris.gains)
    assert Change("held_iris", False) in iris.changes
    # What it names is what a search with the iris free comes to.
    free = Search(replace(dim, held=dim.held - {"iris"})).best()
    assert free is not None
    assert iris.there == f"f/{free.setup.iris:g}"
    assert best.candidate.score - free.score >= WORTH_SCORE


def test_what_gains_nothing_says_nothing() -> None:
    bright = setup(light=Ev100(12.0), held=frozenset({"frame_rate"}))
    best = plans_for(bright).best
    assert best is not None
    (rate,) = let_go(bright, best)
    assert (rate.there, rate.gains, rate.changes) == ("", (), ())


@pytest.mark.parametrize(("word", "times"), EMPHASIS_WORDS.items())
def test_weights_have_words(word: str, times: float) -> None:
    assert emphasis_word(times) == word


def test_a_weight_without_a_word_is_its_factor() -> None:
    assert emphasis_word(2.5) == "2.5 times"
