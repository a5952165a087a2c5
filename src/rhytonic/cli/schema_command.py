"""``rhytonic schema``: the JSON Schema of a recipe file."""

from __future__ import annotations

import argparse
import json

from ..core.recipe.document import schema


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("schema", help="print the JSON Schema of a recipe file")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    print(json.dumps(schema(), indent=1))
    return 0
