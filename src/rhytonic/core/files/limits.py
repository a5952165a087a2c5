"""How much of a file is taken, judged before it is parsed, and what is said of one that is not."""

from __future__ import annotations

from ..errors import RhytonicError

LARGEST_BYTES = 256 * 1024 * 1024
MOST_FACES = 4_000_000
MOST_CORNERS = 4 * MOST_FACES
MOST_VERTICES = 4_000_000
MOST_NODES = 10_000
DEEPEST = 60
LONGEST_NAME = 200


class BadModel(RhytonicError):
    """A model file that cannot be taken; the message says why."""

    code = "bad_model"


def refuse_more(count: int, most: int, what: str) -> None:
    """Raises BadModel where a file tells of more than is taken."""
    if count > most:
        raise BadModel(f"the file has {count:,} {what}; at most {most:,} are taken".replace(",", " "))


def name_from(text: object, fallback: str) -> str:
    """A name out of a file as ours may be: one line, not too long."""
    told = "".join(c if c.isprintable() else " " for c in text) if isinstance(text, str) else ""
    return " ".join(told.split())[:LONGEST_NAME] or fallback
