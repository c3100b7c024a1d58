"""docs/settings.md says what the table of settings says."""

from pathlib import Path

from fotonomy.core.parsing.settings_page import settings_page
from fotonomy.core.parsing.table import SETTINGS


def test_the_page_is_not_stale() -> None:
    kept = Path(__file__).parents[2] / "docs" / "settings.md"
    assert kept.read_text("utf-8") == settings_page(), (
        "python -m fotonomy settings > docs/settings.md"
    )


def test_every_setting_has_a_line_with_its_range() -> None:
    page = settings_page()
    assert all(f"| `{row.name}` | {row.label} |" in page for row in SETTINGS)
    assert "| `moment_s` | The moment lasts | `setup.run` | 0.0001 to 60 s |" in page
