"""JSON Patch (RFC 6902) between documents."""

from __future__ import annotations

from typing import Any

import jsonpatch
import jsonpointer

from .errors import BadPatch

MOST_OPERATIONS = 10_000
#: what a patch from outside may do: not copy, by which a few bytes double a build with every operation
OPERATIONS = frozenset({"add", "remove", "replace", "move", "test"})


_DONE = {"add": "added to", "remove": "removed", "replace": "replaced", "move": "moved", "test": "looked at"}


def _place(operation: dict[str, Any]) -> str:
    """Where an operation goes, as it tells it."""
    told = operation.get("path")
    return f"'{told[:200]}'" if isinstance(told, str) else "no place that is told"


def _filling(document: Any, operation: dict[str, Any]) -> dict[str, Any]:
    """The operation; a value that stands at its default is not written down, and is there all the same for whoever replaces
    it."""
    if operation.get("op") != "replace" or not isinstance(operation.get("path"), str):
        return operation
    parent, last = jsonpointer.JsonPointer(operation["path"]).to_last(document)
    return operation | {"op": "add"} if isinstance(parent, dict) and last is not None and last not in parent else operation


def difference(before: dict[str, Any], after: dict[str, Any]) -> list[Any]:
    """A patch that leads from one document to the other."""
    return list(jsonpatch.make_patch(before, after).patch)


def apply(document: dict[str, Any], patch: list[dict[str, Any]]) -> dict[str, Any]:
    """The document with a patch applied; the one given stays as it is. Raises BadPatch."""
    if len(patch) > MOST_OPERATIONS:
        raise BadPatch(f"a change may have at most {MOST_OPERATIONS} operations")
    now: dict[str, Any] = {}
    try:
        out: Any = jsonpatch.apply_patch(document, [], in_place=False)
        for operation in patch:
            now = operation
            out = jsonpatch.apply_patch(out, [_filling(out, operation)], in_place=True)
    except jsonpatch.JsonPatchTestFailed:
        raise BadPatch(f"the change does not fit the build: at {_place(now)} it has another value by now") from None
    except (jsonpatch.JsonPatchException, jsonpointer.JsonPointerException, KeyError, TypeError, ValueError, IndexError):
        raise BadPatch(f"the change does not fit the build: there is nothing at {_place(now)} that could be "
                       f"{_DONE.get(str(now.get('op')), 'changed')}") from None
    if not isinstance(out, dict):
        raise BadPatch("the change would leave no build")
    return out
