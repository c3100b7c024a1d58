"""The schema of a person's practice: written by hand but for the kinds of exercise there are."""

import json
from importlib.resources import files

from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.exchange.schema_of import Schema


def practice_schema() -> Schema:
    """The schema as it is kept, with the kinds of today."""
    text = files("fotonomy.exchange").joinpath("practice.schema.json").read_text("utf-8")
    schema: Schema = json.loads(text)
    schema["$defs"]["kind"]["enum"] = [kind.value for kind in ExerciseKind]
    return schema
