"""``python -m rhytonic.cli``: what the launcher runs once everything is installed."""

from __future__ import annotations

import argparse
import re
import sys
from importlib import import_module

COMMANDS = ("build", "layout", "curve", "fit", "clearance", "schema", "openapi", "serve")


def main(argv: list[str] | None = None) -> int:
    """Runs the command that is named, its exit code."""
    words = _joined(sys.argv[1:] if argv is None else argv)
    parser = argparse.ArgumentParser(prog="rhytonic", description="Box-model props to match pictures and measurements.")
    commands = parser.add_subparsers(dest="command", required=True)
    # the others take longer to import than a small file to build
    for name in [words[0]] if words and words[0] in COMMANDS else COMMANDS:
        import_module(f"rhytonic.cli.{name}_command").add_to(commands)
    args = parser.parse_args(words)
    return int(args.run(args))


def _joined(argv: list[str]) -> list[str]:
    """A value that begins with a minus sign, as of ``--at -3,0``, joined to its option: argparse takes it for an option."""
    out: list[str] = []
    for word in argv:
        if out and out[-1].startswith("--") and "=" not in out[-1] and re.match(r"-[\d.]", word):
            out[-1] += "=" + word
        else:
            out.append(word)
    return out


if __name__ == "__main__":
    sys.exit(main())
