"""The schemas of all files, made of the classes they describe and kept beside the code."""

from collections.abc import Callable
from pathlib import Path

from fotonomy.exchange.kit_json import kit_schema
from fotonomy.exchange.plan_json import plan_schema, plans_schema
from fotonomy.exchange.practice_schema import practice_schema
from fotonomy.exchange.schema_of import Schema
from fotonomy.exchange.schemas import write_json
from fotonomy.exchange.setup_json import setup_schema
from fotonomy.exchange.shoot_json import shoot_schema

MAKERS: dict[str, Callable[[], Schema]] = {
    "setup": setup_schema, "kit": kit_schema, "plan": plan_schema, "plans": plans_schema,
    "shoot": shoot_schema, "practice": practice_schema,
}  # fmt: skip


def write_schemas(folder: Path = Path(__file__).parent) -> None:
    """Write every schema into ``folder``."""
    for name, make in MAKERS.items():
        (folder / f"{name}.schema.json").write_text(write_json(make()), "utf-8")
