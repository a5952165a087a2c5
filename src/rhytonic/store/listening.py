"""What the database tells of builds that changed, whichever process changed them (LISTEN and NOTIFY of PostgreSQL)."""

from __future__ import annotations

import threading
import time
from collections import deque

import psycopg
from sqlalchemy import make_url

from .builds import CHANGED

#: changes that are remembered for streams that are a little behind
_MOST = 1000
_PAUSE = 1.0


class Listener:
    """One connection that listens, in a thread of its own, for all streams of a process; begun by the first of them."""

    def __init__(self, url: str) -> None:
        place = make_url(url)
        self._where = {"host": place.host, "port": place.port, "user": place.username, "password": place.password,
                       "dbname": place.database}
        self._news: deque[tuple[int, str, int]] = deque(maxlen=_MOST)
        self._number = 0
        self._changed = threading.Condition()
        self._thread: threading.Thread | None = None

    def now(self) -> int:
        """Number of the last piece of news; listening begins."""
        with self._changed:
            if self._thread is None:
                self._thread = threading.Thread(target=self._listen, name="listener", daemon=True)
                self._thread.start()
            return self._number

    def since(self, number: int, patience: float) -> tuple[int, list[tuple[str, int]]]:
        """Builds and their revisions told of after ``number``, waited for at most ``patience`` seconds; and the number to go
        on from."""
        with self._changed:
            self._changed.wait_for(lambda: self._number > number, patience)
            return self._number, [(build, revision) for n, build, revision in self._news if n > number]

    def _tell(self, build: str, revision: int) -> None:
        with self._changed:
            self._number += 1
            self._news.append((self._number, build, revision))
            self._changed.notify_all()

    def _listen(self) -> None:
        while True:
            try:
                with psycopg.connect(**self._where, autocommit=True) as connection:  # type: ignore[arg-type]
                    connection.execute(f"listen {CHANGED}")
                    self._tell("", 0)  # what was told before is not known: whoever follows looks
                    for told in connection.notifies():
                        build, _, revision = told.payload.partition(" ")
                        self._tell(build, int(revision))
            except psycopg.Error:
                time.sleep(_PAUSE)
