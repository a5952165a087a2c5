"""``rhytonic build FILE``: evaluate, write a model, print a report."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from ..core.errors import InvalidFile, RhytonicError
from ..core.files.json_text import LARGEST_FILE
from ..core.files.write import WRITERS, CannotWrite, write_model, write_whole
from ..core.handover.curves import DRAWINGS, drawing_of
from ..core.handover.to_model import model_of
from ..core.inspect.report import report
from ..core.recipe.built import build
from ..core.recipe.document import load
from ..core.recipe.leaving import leaving
from .beside import evaluator_beside


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("build", help="evaluate a recipe file and print its report")
    parser.add_argument("file", type=Path)
    parser.add_argument("--out", type=Path, metavar="MODEL",
                        help=f"write the model: {' '.join(WRITERS)}; or its curves: {' '.join(DRAWINGS)}")
    parser.add_argument("--stage", default="surface", metavar="surface|cage|STEP_ID")
    parser.add_argument("--part", metavar="NAME", help="only this part")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    try:
        extension = args.out.suffix.lower() if args.out is not None else ""
        if args.out is not None and extension not in (*WRITERS, *DRAWINGS):
            raise CannotWrite(f"cannot write '{args.out.name}'; known extensions are {', '.join((*WRITERS, *DRAWINGS))}")
        document = load(read_file(args.file))
        parts = build(document, args.stage, args.part, evaluator=evaluator_beside(args.file))
        if extension in DRAWINGS:
            write_whole(drawing_of(document, parts, extension), args.out)
        elif args.out is not None:
            asked = [p.part.id or "" for p in parts] if args.part else ()
            write_model(model_of(document, leaving(document, parts, asked)), args.out)
        print(json.dumps(report(document, parts), allow_nan=False))
    except RhytonicError as error:
        print(f"{args.file}: {error}".replace("\n", " "), file=sys.stderr)
        return 2
    return 0


def read_file(path: Path, most: int = LARGEST_FILE) -> bytes:
    """A file's bytes, no more than one over what is taken. Raises InvalidFile."""
    try:
        with path.open("rb") as file:
            return file.read(most + 1)
    except OSError as error:
        raise InvalidFile(f"cannot be read: {error.strerror}") from None
