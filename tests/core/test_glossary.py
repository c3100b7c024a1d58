"""The words of the trade: complete, short, found, and spotted in sentences."""

import re

import pytest

from fotonomy.core.glossary import (
    _OF_GEAR,
    _OF_SETTING,
    BY_KEY,
    TERMS,
    found,
    spotted,
    word_of_setting,
    word_of_tile,
)
from fotonomy.core.parsing.table import SETTINGS
from fotonomy.core.tiles import Tile
from fotonomy.figures.glossary import word_figure


def test_at_least_sixty_words_each_once_and_in_two_sentences() -> None:
    assert len(TERMS) >= 60
    assert len(BY_KEY) == len(TERMS) == len({term.name for term in TERMS})
    for term in TERMS:
        assert len(re.findall(r"[.)](?: |$)", term.says)) == 2, term
        assert len(term.says) < 230, term


def test_every_tile_and_label_leads_to_a_word_there_is() -> None:
    assert {word_of_tile(tile.value) for tile in Tile} <= BY_KEY.keys()
    names = {row.name for row in SETTINGS}
    assert _OF_SETTING.keys() <= names
    assert {*_OF_SETTING.values(), *_OF_GEAR.values()} <= BY_KEY.keys()
    assert word_of_setting("iris") == "iris"
    assert word_of_setting("title") == ""


def test_drawings_are_those_of_the_bench() -> None:
    drawn = [term for term in TERMS if term.drawing]
    assert len(drawn) >= 20
    for term in drawn:
        assert word_figure(term.drawing).startswith("<svg")
    assert word_figure("") == ""


@pytest.mark.parametrize(
    ("asked", "first"),
    [("aperture", "iris"), ("nd", "nd"), ("  SHUTTER  angle ", "shutter-angle"), ("T-stop", "t-number"),
     ("blue hour", "twilight"), ("motion blur", "smear"), ("hot pixels", "noise-frame")],
)  # fmt: skip
def test_a_search_finds_names_other_names_and_what_is_said(asked: str, first: str) -> None:
    assert first in [term.key for term in found(asked)]


def test_a_search_puts_names_before_sentences_and_finds_nothing_in_nonsense() -> None:
    keys = [term.key for term in found("grey")]
    assert keys.index("middle-grey") < keys.index("zebra" if "zebra" in keys else "infrared")
    assert found("quux") == ()
    assert found("   ") == TERMS


def test_words_are_spotted_whole_once_and_the_longest_first() -> None:
    assert spotted("A stop over the base ISO, a stop more") == (
        ("A ", ""), ("stop", "stop"), (" over the ", ""), ("base ISO", "base-iso"),
        (", a stop more", ""),
    )  # fmt: skip
    assert spotted("an ND filter") == (("an ", ""), ("ND filter", "nd"))
    assert spotted("unstoppable, nonstop") == (("unstoppable, nonstop", ""),)
    assert spotted("") == ()
