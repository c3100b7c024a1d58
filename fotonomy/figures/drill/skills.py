"""What is known of one skill: a bar of what was right, and a line for what fades."""

from fotonomy.figures.svg import Drawing

WIDTH, TALL, BAR = 170.0, 20.0, 14.0
# From so much on a skill counts as held, under so much as weak. Common practice, no source.
GOOD_SHARE, WEAK_SHARE = 0.8, 0.5


def skill_bar(skill: str, share: float | None, recalled: float | None) -> str:
    """The bar is the share of right answers, the line on it the chance that it is known by now.

    Both from 0 to 1, None where the skill was never practised.
    """
    said = "not practised yet"
    if share is not None:
        said = f"{100 * share:.0f} % right"
        if recalled is not None:
            said += f", {100 * recalled:.0f} % likely to be known now"
    drawing = Drawing(WIDTH, TALL, skill, said)
    top = (TALL - BAR) / 2
    drawing.rect(0, top, WIDTH, BAR, "track-empty")
    if share is None:
        return drawing.render()
    kind = "good" if share >= GOOD_SHARE else "warn" if share >= WEAK_SHARE else "bad"
    drawing.rect(0, top, max(2.0, share * WIDTH), BAR, f"skill-{kind}")
    if recalled is not None:
        at = min(max(recalled * WIDTH, 1.0), WIDTH - 1)
        drawing.line(at, 0, at, TALL, "skill-now")
    return drawing.render()
