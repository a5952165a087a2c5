"""``rhytonic openapi``: the API's description, from which the interface's types are generated."""

from __future__ import annotations

import argparse
import json
import os

from ..web.environment import DESCRIBE


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("openapi", help="print the OpenAPI document")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    os.environ[DESCRIBE] = "1"
    from ..web.app import create_app, openapi
    print(json.dumps(openapi(create_app("postgresql+psycopg://nobody@127.0.0.1:1/none")), indent=1, sort_keys=True))
    return 0
