"""What the store can refuse."""

from __future__ import annotations

from ..core.errors import RhytonicError


class NotThere(RhytonicError):
    code = "not_there"


class Stale(RhytonicError):
    """A change against an old revision."""

    code = "stale_revision"

    def __init__(self, revision: int) -> None:
        super().__init__("the build has changed since; fetch it and apply your change to what is there now")
        self.revision = revision


class NothingToUndo(RhytonicError):
    code = "nothing_to_undo"


class BadPatch(RhytonicError):
    code = "bad_patch"
