"""``rhytonic clearance FILE --part LID``: how much room a part has over the range of its joint."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from ..core.errors import RhytonicError
from ..core.recipe.built import build
from ..core.recipe.document import load
from ..core.size.clearance.room_to_move import clearance_among
from ..core.units import METRES
from .beside import evaluator_beside
from .build_command import read_file


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("clearance", help="least distance of a jointed part to others over its range")
    parser.add_argument("file", type=Path)
    parser.add_argument("--part", required=True, metavar="LID", help="the part or group that moves")
    parser.add_argument("--against", metavar="A,B", help="only against these; all other parts that are seen if left out")
    parser.add_argument("--steps", type=int, default=90)
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    try:
        document = load(read_file(args.file))
        built = build(document, evaluator=evaluator_beside(args.file))
        wanted = None if args.against is None else [w.strip() for w in args.against.split(",")]
        found = clearance_among(document, built, args.part, wanted, min(max(args.steps, 1), 10_000))
        metres = METRES[document.unit]
        told = {"unit": document.unit, "least": found.least / metres, "at": found.at, "touches_at": found.touches_at,
                "touches": list(found.touches), "rests": found.rests, "where": (found.where / metres).tolist()}
        print(json.dumps(told, allow_nan=False))
    except RhytonicError as error:
        print(f"{args.file}: {error}".replace("\n", " "), file=sys.stderr)
        return 2
    return 0
