"""``python -m rhytonic.cli``: what the launcher runs once everything is installed."""

from __future__ import annotations

import argparse
import sys

from . import bench_command, build_command, openapi_command, schema_command, serve_command

COMMANDS = (build_command, schema_command, bench_command, openapi_command, serve_command)


def main(argv: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="rhytonic", description="Box-model props to match pictures and measurements.")
    commands = parser.add_subparsers(dest="command", required=True)
    for module in COMMANDS:
        module.add_to(commands)
    args = parser.parse_args(argv)
    return int(args.run(args))


if __name__ == "__main__":
    sys.exit(main())
