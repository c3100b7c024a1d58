"""What is known and what is weak, drawn as the lanes of the bench."""

from dataclasses import dataclass

from fotonomy.figures.svg import Drawing, Size


@dataclass(frozen=True, slots=True)
class Lane:
    """One skill in its lane: the share that was right, the chance it is known now, its level.

    Both None where it was never practised.
    """

    lane: str
    skill: str
    share: float | None
    recalled: float | None
    level: int


_TALL = 22.0
# From so much on a skill counts as held, under so much as weak. Common practice, no source.
GOOD_SHARE, WEAK_SHARE = 0.8, 0.5


def skills_figure(lanes: tuple[Lane, ...], size: Size) -> str:
    """A bar a skill, under the name of its lane: how much of it was right, and what fades.

    The bar is the share of right answers, the line on it the chance that it is known by now.
    """
    line = size.line + 10
    heads = list(dict.fromkeys(one.lane for one in lanes))
    height = len(lanes) * line + len(heads) * (line - 4) + 24
    weak = [one.skill for one in lanes if one.share is not None and one.share < WEAK_SHARE]
    said = f"Weak: {', '.join(weak)}" if weak else "Nothing is weak so far"
    drawing = Drawing(size.width, height, "Your skills", said, size.text_px)
    name_px = min(190.0, size.width * 0.46) if not drawing.narrow else size.width * 0.52
    left, right = name_px + 8, size.width - 54
    y = 4.0
    for head in heads:
        y += line - 4
        drawing.label(0, y - 6, head, "caption")
        drawing.line(0, y - 1, size.width, y - 1, "rule")
        for one in (lane for lane in lanes if lane.lane == head):
            _bar(drawing, one, y + 4, left, right)
            y += line
    for share in (0.0, 0.5, 1.0):
        x = left + share * (right - left)
        drawing.label(x, height - 6, f"{100 * share:.0f} %", "tick middle")
    return drawing.render()


def _bar(drawing: Drawing, one: Lane, y: float, left: float, right: float) -> None:
    base = y + 0.36 * drawing.text_px + 8
    drawing.label(0, base, one.skill, "label")
    drawing.rect(left, y, right - left, 14, "track-empty")
    if one.share is None:
        drawing.label(left + 6, base, "not yet", "caption")
        return
    kind = "good" if one.share >= GOOD_SHARE else "warn" if one.share >= WEAK_SHARE else "bad"
    drawing.rect(left, y, max(2.0, one.share * (right - left)), 14, f"skill-{kind}")
    if one.recalled is not None:
        x = left + one.recalled * (right - left)
        drawing.line(x, y - 3, x, y + 17, "skill-now")
    drawing.label(right + 8, base, f"level {one.level}", "caption")
