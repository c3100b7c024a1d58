"""How a filter goes on a lens, in words. Common practice, no source, but for the arithmetic."""

import pytest

from fotonomy.core.gear.filters import (
    Filter,
    FilterKind,
    Front,
    MatteBox,
    Mount,
    StepRing,
    seating,
)

RING = StepRing(name="Ring", lens_mm=67, filter_mm=77)
BOX = MatteBox(name="Box", largest_mm=82)
SMALL_BOX = MatteBox(name="Small box", largest_mm=60)


def glass(thread_mm: float | None, mount: Mount = Mount.THREAD) -> Filter:
    return Filter(name="g", kind=FilterKind.ND, stops=3, thread_mm=thread_mm, mount=mount)


@pytest.mark.parametrize(
    ("piece", "front", "on", "problem"),
    [
        (glass(77), Front(77), "its own thread", ""),
        (glass(77), Front(67, (RING,)), "Ring", ""),
        (glass(77), Front(62, (RING,)), "", "needs a step ring 62 to 77"),
        (glass(82), Front(67, (RING,)), "", "needs a step ring 67 to 82"),
        (glass(62), Front(77, (RING,)), "", "62 mm glass is smaller than the lens's 77 mm"),
        (glass(77), Front(None, (RING, BOX)), "", "has no thread"),
        (glass(None, Mount.SQUARE), Front(82, (RING, BOX)), "Box", ""),
        (glass(None, Mount.SQUARE), Front(None, (BOX,)), "Box", ""),
        (glass(None, Mount.SQUARE), Front(83, (BOX, SMALL_BOX)), "", "up to 82 mm only"),
        (glass(None, Mount.SQUARE), Front(77, (SMALL_BOX, BOX)), "Box", ""),
        (glass(None, Mount.SQUARE), Front(77, (RING,)), "", "needs a matte box"),
        (glass(None, Mount.SQUARE), Front(77, (BOX,), carries_box=False), "", "cannot be carried"),
        (glass(None, Mount.CLIP_ON), Front(None), "clipped in", ""),
        (glass(None, Mount.CLIP_ON), Front(None, clips_in=False), "", "does not come off"),
    ],
)
def test_what_it_sits_on_or_why_it_does_not(
    piece: Filter, front: Front, on: str, problem: str
) -> None:
    found = seating(piece, front)
    assert found.fits == piece.fits(front) == (not problem)
    assert (found.on.startswith(on), bool(found.on)) == (True, not problem)
    assert problem in found.problem
