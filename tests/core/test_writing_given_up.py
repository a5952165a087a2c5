"""What is written for nobody is given up, in every format and within a single large part."""

import pytest

from rhytonic.core.errors import Cancelled
from rhytonic.core.files.model import Model, Node, Shape
from rhytonic.core.files.write import WRITERS
from rhytonic.core.files.writing.text import in_pieces
from rhytonic.core.waiting import waited_for
from tests.helpers import mesh_of

PLATE = Model((Node("Plate", shape=Shape("Plate", mesh_of({"id": "p", "kind": "plane", "size": [20, 15], "segments": [200, 150]}))),))


def asked(write):
    """How often it is asked whether anybody waits, where somebody does."""
    times = []
    with waited_for(lambda: bool(times.append(1))):
        whole = write(PLATE)
    return len(times), whole


@pytest.mark.parametrize("extension", WRITERS)
def test_every_writer_stops_wherever_it_asks(extension):
    write = WRITERS[extension]
    write(PLATE)  # what is remembered of a mesh is not asked for again
    often, whole = asked(write)
    assert often >= (4 if extension in (".obj", ".ply", ".usda", ".usdz") else 1)  # long text comes in pieces
    for last in range(often):
        left = [last]

        def gone(left=left):
            left[0] -= 1
            return left[0] < 0

        with waited_for(gone), pytest.raises(Cancelled):
            write(PLATE)
    assert write(PLATE) == whole


@pytest.mark.parametrize("count", [0, 1, 19_999, 20_000, 20_001, 40_000])
@pytest.mark.parametrize("between", ["", ", "])
def test_pieces_are_the_whole(count, between):
    assert "".join(in_pieces(map(str, range(count)), between)) == between.join(map(str, range(count)))
