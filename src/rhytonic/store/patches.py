"""JSON Patch (RFC 6902) between documents."""

from __future__ import annotations

from typing import Any

import jsonpatch
import jsonpointer

from .errors import BadPatch

MOST_OPERATIONS = 10_000
#: what a patch from outside may do: not copy, by which a few bytes double a build with every operation
OPERATIONS = frozenset({"add", "remove", "replace", "move", "test"})


def difference(before: dict[str, Any], after: dict[str, Any]) -> list[Any]:
    """A patch that leads from one document to the other."""
    return list(jsonpatch.make_patch(before, after).patch)


def apply(document: dict[str, Any], patch: list[dict[str, Any]]) -> dict[str, Any]:
    """The document with a patch applied; the one given stays as it is. Raises BadPatch."""
    if len(patch) > MOST_OPERATIONS:
        raise BadPatch(f"a change may have at most {MOST_OPERATIONS} operations")
    try:
        out = jsonpatch.apply_patch(document, patch, in_place=False)
    except (jsonpatch.JsonPatchException, jsonpointer.JsonPointerException, KeyError, TypeError, ValueError,
            IndexError) as error:
        raise BadPatch(f"the change does not fit the build: {error}") from None
    if not isinstance(out, dict):
        raise BadPatch("the change would leave no build")
    return out
