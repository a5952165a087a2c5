"""``python -m bench``: what ``./rhytonic bench`` runs."""

from __future__ import annotations

import argparse

from .table import main

parser = argparse.ArgumentParser(prog="rhytonic bench", description="Print the speed table.")
parser.add_argument("--json", action="store_true", help="rows of name, ours, other, other's name, ratio")
raise SystemExit(main(as_json=parser.parse_args().json))
