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


class ChangedElsewhere(RhytonicError):
    """What is to be taken back was changed by another window since."""

    code = "changed_elsewhere"

    def __init__(self, label: str, what: str) -> None:
        super().__init__(f"'{label}' cannot be taken back: another window has changed {what} since; undo it there first, or "
                         "change it here")


class BadPatch(RhytonicError):
    code = "bad_patch"
