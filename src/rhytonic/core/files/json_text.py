"""JSON from outside: bounded in size and depth, no key twice."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from typing import Any

from ..errors import InvalidFile

LARGEST_FILE = 64 * 1024 * 1024
DEEPEST = 60
#: how characters that no database keeps may be written
_SUSPECT = re.compile(r"\\u(?:0000|[dD][89a-fA-F])|[\x00\ud800-\udfff]")


def read_json(text: bytes | str) -> Any:
    """Parse JSON from outside: bounded in size and depth, no key twice.

    Numbers that are not finite (``NaN``, ``1e999``) come through: the schema refuses them where they stand, and so can
    tell the place.

    Raises:
        InvalidFile: with what was wrong.
    """
    if len(text) > LARGEST_FILE:
        raise InvalidFile(f"the file is larger than {LARGEST_FILE // 2**20} MB")
    try:
        data = json.loads(text, object_pairs_hook=_once)
        _bounded(data)
        if _SUSPECT.search(text if isinstance(text, str) else text.decode()):
            _refuse_unstorable(data)
        return data
    except RecursionError:
        raise InvalidFile(f"the file is nested deeper than {DEEPEST} levels") from None
    except UnicodeDecodeError:
        raise InvalidFile("the file is not UTF-8 text") from None
    except json.JSONDecodeError as error:
        raise InvalidFile(f"not JSON: {error.msg} at line {error.lineno}, column {error.colno}") from None
    except ValueError as error:
        raise InvalidFile(f"not JSON: {error}") from None


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    out = dict(pairs)
    if len(out) < len(pairs):
        seen: set[str] = set()
        for key, _ in pairs:
            if key in seen:
                raise InvalidFile(f"the key '{key}' stands twice in one object")
            seen.add(key)
    return out


def _refuse_unstorable(data: Any) -> None:
    """Raises InvalidFile for the character NUL and halves of surrogate pairs, which no database keeps."""
    left: list[Any] = [data]
    while left:
        value = left.pop()
        if isinstance(value, str):
            if any(c == "\0" or "\ud800" <= c <= "\udfff" for c in value):
                raise InvalidFile("text holds a character that cannot be kept (NUL, or half of a surrogate pair); take it "
                                  "out")
        elif isinstance(value, dict):
            left += [*value.keys(), *value.values()]
        elif isinstance(value, list):
            left += value


def _bounded(data: Any) -> None:
    level: list[Any] = [data]
    for _ in range(DEEPEST):
        level = [v for d in level for v in _children(d)]
        if not level:
            return
    raise InvalidFile(f"the file is nested deeper than {DEEPEST} levels")


def _children(value: Any) -> Iterable[Any]:
    if isinstance(value, dict):
        return value.values()
    return value if isinstance(value, list) else ()
