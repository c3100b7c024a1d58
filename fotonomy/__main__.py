"""``python -m fotonomy plan FILE.json`` (or ``solve``): the core without the web.

``explain FILE.json NAME`` prints how one number of a plan came about, by the names of
docs/formulas.md. ``schemas`` writes the schemas of all files anew, from the classes they describe;
``settings`` prints docs/settings.md, ``formulas`` docs/formulas.md; ``words`` lists every sentence
the program can say, with its place.
"""

import argparse
import sys
from pathlib import Path

from fotonomy.core.analysis.interval import worked_out
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.errors import RuleError
from fotonomy.core.parsing.settings_page import settings_page
from fotonomy.core.plan import plan, plans_for
from fotonomy.core.spec.setup import Setup
from fotonomy.core.working.explain import names_in, working_of
from fotonomy.core.working.quantity import NoSuchNumberError
from fotonomy.core.working.written import as_text, formulas_page
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.plan_json import plan_to_data, solutions_to_data
from fotonomy.exchange.schema_files import write_schemas
from fotonomy.exchange.schemas import write_json
from fotonomy.exchange.setup_json import read_setup
from fotonomy.site.sentences import listing


def _as_it_follows(setup: Setup) -> Setup:
    """A run with the one of event, interval and clip that follows worked out, as on the bench."""
    return worked_out(setup) if setup.kind.traits.has_interval else setup


def _explain(setup: Setup, name: str) -> int:
    """Print the working of a number; 2, and the names there are, for one that is none."""
    analysis = analyse(setup)
    try:
        found = working_of(analysis, name)
    except NoSuchNumberError:
        print(f"{name}: no number of this plan. There are:", file=sys.stderr)
        print("\n".join(f"  {one}" for one in names_in(analysis)), file=sys.stderr)
        return 2
    sys.stdout.write(as_text(found))
    return 0


def main(arguments: list[str] | None = None) -> int:
    """Print the plan of a setup file or what the planner offers; 2 if the file is refused."""
    parser = argparse.ArgumentParser(prog="python -m fotonomy", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    planner = commands.add_parser("plan", help="print the plan of one setup file as JSON")
    solver = commands.add_parser("solve", help="print what the planner offers for one, as JSON")
    commands.add_parser("schemas", help="write the schemas of all files anew")
    commands.add_parser("settings", help="print every setting as Markdown")
    commands.add_parser("formulas", help="print every formula as Markdown")
    commands.add_parser("words", help="list every sentence the program can say")
    explainer = commands.add_parser("explain", help="print how one number came about")
    for command in (planner, solver, explainer):
        command.add_argument("file", type=Path, help="a setup file, see docs/formats.md")
    explainer.add_argument("name", help="a number, such as motion.smear_percent")
    asked = parser.parse_args(arguments)
    if asked.command == "schemas":
        write_schemas()
        return 0
    if asked.command == "settings":
        sys.stdout.write(settings_page())
        return 0
    if asked.command == "formulas":
        sys.stdout.write(formulas_page())
        return 0
    if asked.command == "words":
        sys.stdout.write(listing())
        return 0
    path: Path = asked.file
    try:
        setup = _as_it_follows(read_setup(path.read_bytes()).setup)
    except OSError as error:
        print(f"{path}: {error.strerror}", file=sys.stderr)
        return 2
    except ExchangeError as error:
        print(f"{path}: {error}", file=sys.stderr)
        return 2
    except RuleError as error:
        print(f"{path}: {error.field} {error.rule}", file=sys.stderr)
        return 2
    if asked.command == "explain":
        return _explain(setup, asked.name)
    wanted = asked.command == "plan"
    answer = plan_to_data(plan(setup)) if wanted else solutions_to_data(plans_for(setup))
    sys.stdout.write(write_json(answer))
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
