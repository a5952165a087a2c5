"""``rhytonic layout FILE``: the texture square as a picture for a paint program."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from ..core.errors import RhytonicError
from ..core.files.write import CannotWrite, write_whole
from ..core.handover.layout_picture import layout_png, layout_svg
from ..core.mesh.uv import uvs
from ..core.recipe.built import build
from ..core.recipe.document import load
from ..core.recipe.leaving import leaving
from .beside import evaluator_beside
from .build_command import read_file


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("layout", help="draw the texture square of a recipe file")
    parser.add_argument("file", type=Path, metavar="FILE")
    parser.add_argument("--out", type=Path, required=True, metavar="X.png|X.svg")
    parser.add_argument("--part", metavar="NAME", help="this part alone")
    parser.add_argument("--size", type=int, default=4096, help="pixels a side")
    parser.add_argument("--depth", type=int, choices=[8, 16], default=8, help="bits a pixel of a PNG")
    parser.add_argument("--fill", action="store_true", help="islands filled instead of outlined")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    try:
        kind = args.out.suffix.lower()
        if kind not in (".png", ".svg"):
            raise CannotWrite(f"cannot write {args.out.name}: a layout is a .png or an .svg")
        document = load(read_file(args.file))
        parts = build(document, only=args.part, evaluator=evaluator_beside(args.file))
        asked = [p.part.id or "" for p in parts] if args.part else ()
        meshes = [(p.name, p.mesh) for p in leaving(document, parts, asked) if p.curve is None]
        data = layout_svg(meshes, args.size, args.fill) if kind == ".svg" else \
            layout_png(meshes, args.size, args.depth, args.fill)
        write_whole(data, args.out)
    except CannotWrite as error:
        print(error, file=sys.stderr)
        return 2
    except RhytonicError as error:
        print(f"{args.file}: {error}".replace("\n", " "), file=sys.stderr)
        return 2
    laid = [name for name, mesh in meshes if uvs(mesh) is not None]
    print(json.dumps({"parts": laid, "size": args.size}))
    return 0
