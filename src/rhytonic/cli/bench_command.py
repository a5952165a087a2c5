"""``rhytonic bench``: the speed table."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path


def add_to(commands: argparse._SubParsersAction) -> None:
    parser = commands.add_parser("bench", help="print the speed table")
    parser.add_argument("--json", action="store_true", help="rows of name, ours, other, other's name, ratio")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    sys.path.insert(0, str(Path(__file__).resolve().parents[3]))
    from bench.table import main
    return main(as_json=args.json)
