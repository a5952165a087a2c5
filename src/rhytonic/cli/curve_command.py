"""``rhytonic curve FILE``: a drawing as a recipe file of curves."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from ..core.errors import RhytonicError
from ..core.files.drawing import LARGEST_DRAWING
from ..core.files.sandbox import read_drawing_apart
from ..core.files.write import CannotWrite, write_whole
from ..core.handover.curves import recipe_of
from ..core.recipe.document import load
from .build_command import read_file


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("curve", help="make a recipe file of an SVG or DXF drawing")
    parser.add_argument("file", type=Path, metavar="IN.svg|IN.dxf")
    parser.add_argument("--out", type=Path, required=True, metavar="FILE.rhy.json")
    parser.add_argument("--unit", choices=["mm", "cm", "m", "in", "ft"], help="of a DXF that tells none; mm if left out")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    try:
        drawing = read_drawing_apart(read_file(args.file, LARGEST_DRAWING), args.file.name, args.unit)
        text = json.dumps(recipe_of(drawing), indent=1)
        load(text.encode())
        write_whole(f"{text}\n".encode(), args.out)
    except CannotWrite as error:
        print(error, file=sys.stderr)
        return 2
    except RhytonicError as error:
        print(f"{args.file}: {error}".replace("\n", " "), file=sys.stderr)
        return 2
    for note in drawing.notes:
        print(f"{args.file}: {note}", file=sys.stderr)
    print(json.dumps({"parts": [name for name, _ in drawing.shapes], "notes": list(drawing.notes)}))
    return 0
