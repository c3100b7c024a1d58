"""Drawings that a phone reads."""

from io import BytesIO

import segno


def qr_svg(text: str, title: str) -> str:
    """A QR code as SVG, black on white whatever the theme: cameras want it so."""
    drawn = BytesIO()
    segno.make(text, error="m").save(
        drawn, kind="svg", scale=5, border=4, xmldecl=False, dark="#000", light="#fff",
        omitsize=True, title=title,
    )  # fmt: skip
    return drawn.getvalue().decode()
