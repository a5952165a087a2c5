"""``rhytonic clearance FILE --part LID``: how much room a part has over the range of its joint."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from ..core.errors import RhytonicError, UnknownName
from ..core.files.beside import Beside
from ..core.recipe.built import build
from ..core.recipe.document import load
from ..core.recipe.evaluate import Evaluator
from ..core.recipe.part import Part
from ..core.size.clearance import clearance, mover_named
from ..core.units import METRES
from .build_command import read_file


def add_to(commands: argparse._SubParsersAction) -> None:
    parser = commands.add_parser("clearance", help="least distance of a jointed part to others over its range")
    parser.add_argument("file", type=Path)
    parser.add_argument("--part", required=True, metavar="LID", help="the part or group that moves")
    parser.add_argument("--against", metavar="A,B", help="only against these; all other parts that are seen if left out")
    parser.add_argument("--steps", type=int, default=90)
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    try:
        document = load(read_file(args.file))
        mover, joint = mover_named(document, args.part)
        built = build(document, evaluator=Evaluator(files=Beside(args.file.parent)))
        moves = {p.part.id for p in built if p.part is mover or
                 (not isinstance(mover, Part) and any(g.id == mover.id for g in document.groups_of(p.part)))}
        wanted = None if args.against is None else [w.strip() for w in args.against.split(",")]
        for name in wanted or ():
            if document.part(name) is None:
                raise UnknownName(f"there is no part '{name}'")
        others = [p for p in built if p.part.id not in moves and
                  (p.part.name in wanted or p.part.id in wanted if wanted is not None else not p.part.hidden)]
        if not others:
            raise UnknownName("there is no other part to be clear of")
        moving = [(p.part, p.evaluation.surface.mesh) for p in built if p.part.id in moves]
        found = clearance(document, mover, joint, moving, [p.mesh for p in others], min(max(args.steps, 1), 10_000))
        metres = METRES[document.unit]
        told = {"unit": document.unit, "least": found.least / metres, "at": found.at, "touches_at": found.touches_at,
                "where": (found.where / metres).tolist()}
        print(json.dumps(told, allow_nan=False))
    except RhytonicError as error:
        print(f"{args.file}: {error}".replace("\n", " "), file=sys.stderr)
        return 2
    return 0
