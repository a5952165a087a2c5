"""``python -m rhytonic.cli``: what the launcher runs once everything is installed."""

from __future__ import annotations

import argparse
import re
import sys

from . import build_command, clearance_command, curve_command, fit_command, openapi_command, schema_command, serve_command

COMMANDS = (build_command, curve_command, fit_command, clearance_command, schema_command, openapi_command, serve_command)


def main(argv: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="rhytonic", description="Box-model props to match pictures and measurements.")
    commands = parser.add_subparsers(dest="command", required=True)
    for module in COMMANDS:
        module.add_to(commands)
    args = parser.parse_args(_joined(sys.argv[1:] if argv is None else argv))
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
