"""Every sentence the program can say: listed from where it stands, and held to its manners."""

import re

from fotonomy.__main__ import main
from fotonomy.site.sentences import of_python, of_script, of_template, sentences


def test_a_template_says_its_words_with_gaps_for_values() -> None:
    text = """{# Takes: a comment, never shown. #}
<p>{% if found %}{{ count }} takes are here{% else %}No take is logged yet{% endif %}</p>
<img alt="the boat yard at dusk" src="/a b.png" class="big one">
"""
    said = list(of_template(text))
    assert [words for _, words in said] == [
        "… takes are here", "No take is logged yet", "the boat yard at dusk",
    ]  # fmt: skip
    assert said[-1][0] == 3


def test_a_module_says_its_texts_but_not_its_docstrings() -> None:
    text = '''"""What this is for, never shown."""
def words(count):
    """Nor is this one."""
    key = "not_said"
    return f"{count} lamps flicker" if count else "no lamp flickers"
'''
    assert {words for _, words in of_python(text)} == {"no lamp flickers", "… lamps flicker"}


def test_a_script_says_its_texts() -> None:
    text = 'const a = "data-own";\ntell(`It stopped (${why}). Choose the same files again.`);\n'
    assert list(of_script(text)) == [(2, "It stopped (…). Choose the same files again.")]


def test_all_of_them_are_listed(capsys: object) -> None:
    found = {(file, text) for file, _, text in sentences()}
    for file, text in (
        ("shoots/presenters/plans.py", "No plan is better than what stands."),
        ("takes/templates/takes/ingest.html", "Remove unmatched copies. Your own files stay."),
        ("web/static/web/field-offline.js",
         "Offline I know only: +1, EV 6, or a name such as overcast."),
        ("core/findings/neutral_density.py",
         "Strong ND lets infrared through: blacks may turn brown"),
    ):  # fmt: skip
        assert (file, text) in found
    assert len(found) > 3000
    assert main(["words"]) == 0


def test_nobody_is_shouted_at_and_nothing_is_a_riddle() -> None:
    """Plain trade words, no exclamation marks; what was bettered once does not come back."""
    gone = re.compile(
        r"lower is better|needs an answer|stand back to|settle for|of … on end|take in a shoot"
        r"|put them to their takes|penalty …",
        re.IGNORECASE,
    )
    said = [(file, text) for file, _, text in sentences()]
    assert [one for one in said if one[1].endswith("!")] == []
    assert [one for one in said if gone.search(one[1])] == []
