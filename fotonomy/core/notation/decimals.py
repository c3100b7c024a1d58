"""Numbers as people type them: with a point or a comma."""


def with_point(text: str) -> str:
    """The text with its decimal commas as points."""
    return text.replace(",", ".")


def decimal(text: str) -> float:
    """A number with a point or a comma. ValueError for what is none."""
    return float(with_point(text))
