"""``rhytonic fit FILE --board PNG``: how closely a model matches a picture."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

import numpy as np

from ..core.brief.board import Board
from ..core.brief.tracing import Outline, Tracing
from ..core.brief.views import VIEWS
from ..core.errors import InvalidFile, RhytonicError
from ..core.files.write import CannotWrite, write_whole
from ..core.fit.boards import outline_of
from ..core.fit.compare import compare, corner_count
from ..core.fit.draw import overlay
from ..core.fit.outline import outline
from ..core.picture.decode import LARGEST_BYTES, decode
from ..core.picture.trace import TRACED_SIDE, to_rings, trace
from ..core.recipe.built import build
from ..core.recipe.document import load
from ..core.units import METRES
from .beside import evaluator_beside
from .build_command import read_file


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("fit", help="compare a model's outline with a picture's")
    parser.add_argument("file", type=Path)
    parser.add_argument("--board", type=Path, required=True, metavar="PNG", help="PNG, JPEG or WebP")
    parser.add_argument("--view", required=True, choices=VIEWS)
    parser.add_argument("--width", type=_positive, required=True, metavar="W", help="of the picture, in the file's unit")
    parser.add_argument("--at", type=_place, default=(0.0, 0.0), metavar="X,Y",
                        help="where in the view the picture's lower middle stands")
    parser.add_argument("--part", metavar="NAME", help="only this part")
    parser.add_argument("--threshold", type=float, default=Tracing().threshold, metavar="0…1",
                        help="how far a colour differs from the background's to count")
    parser.add_argument("--overlay", type=Path, metavar="OUT.png", help="draw the deviation over the picture")
    parser.set_defaults(run=run)


def _positive(text: str) -> float:
    value = float(text.replace(",", "."))
    if not 0 < value < 1e9:
        raise argparse.ArgumentTypeError("a width is more than 0")
    return value


def _place(text: str) -> tuple[float, float]:
    parts = text.split(",")
    if len(parts) != 2:
        raise argparse.ArgumentTypeError("write two numbers with a comma between, such as 0,-15")
    x, y = (float(p) for p in parts)
    if not (np.isfinite(x) and np.isfinite(y)):
        raise argparse.ArgumentTypeError("write two finite numbers")
    return x, y


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    at_fault = args.file
    try:
        document = load(read_file(args.file))
        metres = METRES[document.unit]
        evaluator = evaluator_beside(args.file)
        meshes = [p.mesh for p in build(document, only=args.part, evaluator=evaluator)
                  if args.part is not None or not p.part.hidden]
        at_fault = args.board
        picture = decode(read_file(args.board, LARGEST_BYTES), TRACED_SIDE)
        if not 0 <= args.threshold <= 1:
            raise InvalidFile("a threshold lies between 0 and 1")
        traced = trace(picture, Tracing(threshold=args.threshold))
        rings = [[(float(x), float(y)) for x, y in ring * args.width] for ring in to_rings(traced)]
        board = Board(id="board", picture="0" * 64, name=args.board.name, view=args.view, width=args.width, at=args.at,
                      outline=Outline(width=args.width, rings=rings))
        model, drawn = outline(meshes, args.view), outline_of(board, metres)
        figures = compare(model, drawn)
        if figures is None:
            at_fault = args.file
            raise InvalidFile(f"nothing of the model is seen from the {args.view}; there is no outline to compare")
        if args.overlay is not None:
            write_whole(overlay(picture, board, figures, model, metres), args.overlay)
        worst_at = [v / metres for v in figures.worst_at] if figures.worst_at is not None else None
        print(json.dumps({
            "unit": document.unit, "view": args.view, "iou": figures.iou, "mean": figures.mean / metres,
            "worst": figures.worst / metres, "worst_at": worst_at,
            "outline": {"model": corner_count(model), "picture": corner_count(drawn)}}, allow_nan=False))
    except CannotWrite as error:
        print(error, file=sys.stderr)
        return 2
    except RhytonicError as error:
        print(f"{at_fault}: {error}".replace("\n", " "), file=sys.stderr)
        return 2
    return 0
