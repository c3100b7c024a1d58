"""``python -m fotonomy plan FILE.json``: the core without the web."""

import argparse
import sys
from pathlib import Path

from fotonomy.core.plan import plan
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.plan_json import plan_to_data
from fotonomy.exchange.setup_json import read_setup, write_json


def main(arguments: list[str] | None = None) -> int:
    """Print the plan of a setup file; 0 if planned, 2 if the file is refused."""
    parser = argparse.ArgumentParser(prog="python -m fotonomy", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    planner = commands.add_parser("plan", help="print the plan of one setup file as JSON")
    planner.add_argument("file", type=Path, help="a setup file, see docs/formats.md")
    path: Path = parser.parse_args(arguments).file
    try:
        planned = plan(read_setup(path.read_bytes()).setup)
    except OSError as error:
        print(f"{path}: {error.strerror}", file=sys.stderr)
        return 2
    except ExchangeError as error:
        print(f"{path}: {error}", file=sys.stderr)
        return 2
    sys.stdout.write(write_json(plan_to_data(planned)))
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
