"""Kinds and their traits: rules ask for a trait, and a kind says all of its own in one place."""

import ast
from pathlib import Path

import pytest

import fotonomy
from fotonomy.core.kinds import KINDS
from fotonomy.core.spec.kind import Kind, Traits

PACKAGE = Path(fotonomy.__file__).parent
MOST_CONDITIONALS = 10


def _is_kind(node: ast.AST) -> bool:
    return (
        isinstance(node, ast.Attribute)
        and isinstance(node.value, ast.Name)
        and node.value.id == "Kind"
        and node.attr.isupper()
    )


def test_hardly_a_rule_asks_for_a_kind_by_name() -> None:
    """Comparisons, membership and match cases on ``Kind.…`` in all of the program."""
    found = []
    for path in PACKAGE.rglob("*.py"):
        if "migrations" in path.parts:
            continue
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            asks = isinstance(node, ast.Compare | ast.match_case) and any(
                _is_kind(one)
                for one in ast.walk(node.pattern if isinstance(node, ast.match_case) else node)
            )
            found += [f"{path.name}:{getattr(node, 'lineno', '')}"] if asks else []
    assert len(found) <= MOST_CONDITIONALS, found


@pytest.mark.parametrize(
    ("trait", "kinds"),
    [
        ("stills", {Kind.INTERVAL, Kind.BURST, Kind.LONG_EXPOSURE}), ("has_interval", {Kind.INTERVAL}),
        ("drive", {Kind.BURST}), ("long_frame", {Kind.LONG_EXPOSURE}), ("slows", {Kind.SLOW_MOTION}),
        ("calms", {Kind.MACRO}), ("rolls", {Kind.ROLLING}), ("flies", {Kind.AERIAL}),
        ("close_up", {Kind.MACRO}), ("dark", {Kind.NIGHT}), ("darkened", {Kind.DUSK_FOR_NIGHT}),
        ("tripod", {Kind.MACRO, Kind.INTERVAL, Kind.LONG_EXPOSURE}),
        ("stands", {Kind.NIGHT, Kind.INTERVAL, Kind.LONG_EXPOSURE}),
        ("windy", {Kind.INTERVAL, Kind.LONG_EXPOSURE}),
        ("by_hand", {Kind.MACRO, Kind.INTERVAL, Kind.LONG_EXPOSURE}),
        ("test_frames", {Kind.NIGHT, Kind.INTERVAL, Kind.BURST, Kind.LONG_EXPOSURE}),
    ],
)  # fmt: skip
def test_which_kinds_have_a_trait(trait: str, kinds: set[Kind]) -> None:
    """Common practice, no source."""
    assert {kind for kind in Kind if getattr(kind.traits, trait)} == kinds


def test_real_time_is_the_plain_one() -> None:
    assert Kind.REAL_TIME.traits == Traits()
    assert Kind("real_time") is Kind.REAL_TIME
    assert Kind.LONG_EXPOSURE.label == "long exposure"
    with pytest.raises(ValueError, match="waltz"):
        Kind("waltz")


def test_single_pictures_have_a_dry_run_and_video_has_none() -> None:
    """What records stills is one of a run, a drive and a long frame; each has rules of its own."""
    for kind, rules in KINDS.items():
        traits = kind.traits
        assert traits.has_interval + traits.drive + traits.long_frame == traits.stills
        assert (rules.dry_run is not None) == traits.stills
        assert (rules.opened is not None) == traits.stills
