"""``rhytonic serve``: migrate the database and serve with gunicorn; the launcher calls it."""

from __future__ import annotations

import argparse
import os
import sys

from ..store.database import migrate


def add_to(commands: argparse._SubParsersAction) -> None:
    parser = commands.add_parser("serve", help="serve an existing database (RHYTONIC_DATABASE_URL)")
    parser.add_argument("--port", type=int, default=8787)
    parser.add_argument("--host", default="127.0.0.1")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    migrate(os.environ["RHYTONIC_DATABASE_URL"])
    command = [sys.executable, "-m", "gunicorn", "--bind", f"{args.host}:{args.port}", "--worker-class", "gthread",
               "--workers", "1", "--threads", "8", "--timeout", "120", "--keep-alive", "75", "--graceful-timeout", "5",
               "--no-control-socket", "--log-level", "warning", "rhytonic.web.app:create_app()"]
    os.execv(sys.executable, command)
