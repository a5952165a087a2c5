import numpy as np

from rhytonic.core.mesh.names import Index, from_hex, hex_of, name, no_parents, reduced, word
from tests.helpers import box, mesh_of


def test_hex_and_back():
    ids = np.array([0, 1, 2**64 - 1, 0xABC], np.uint64)
    assert hex_of(ids) == ["0" * 16, "0" * 15 + "1", "f" * 16, "0000000000000abc"]
    assert (from_hex(hex_of(ids)) == ids).all()


def test_vertices_and_faces_never_share_a_value():
    index = np.arange(5000)[:, None]
    v = name("s", "vertex", "", 5000, no_parents(5000), index)
    f = name("s", "face", "", 5000, no_parents(5000), index)
    assert (v & np.uint64(1) == 0).all() and (f & np.uint64(1) == 1).all()
    assert np.unique(np.concatenate([v, f])).size == 10000


def test_every_part_of_a_name_counts():
    one = np.zeros((1, 1), np.int64)
    parent = np.array([[7]], np.uint64)
    base = name("s", "face", "cap", 1, parent, one)
    others = [name("t", "face", "cap", 1, parent, one), name("s", "face", "side", 1, parent, one),
              name("s", "face", "cap", 1, parent + np.uint64(1), one), name("s", "face", "cap", 1, parent, one + 1)]
    assert all(base[0] != o[0] for o in others)


def test_step_words_are_blake2b():
    assert word("body") == word("body") != word("bodx")


def test_fractions_in_lowest_terms():
    assert reduced(np.array([0, 1, 2, 3, 4]), 4).tolist() == [[0, 1], [1, 4], [1, 2], [3, 4], [1, 1]]


def test_index_finds_and_misses():
    index = Index(np.array([5, 3, 9], np.uint64))
    assert index.find(np.array([9, 4, 5], np.uint64)).tolist() == [2, -1, 0]


def test_corners_of_a_box_keep_their_ids_when_segments_change():
    plain, cut = mesh_of(box((2, 2, 2))), mesh_of(box((4, 3, 2), (2, 4, 1)))
    assert np.isin(plain.names.vertex, cut.names.vertex).all()
    half, quarter = mesh_of(box(segments=(2, 1, 1))), mesh_of(box(segments=(4, 1, 1)))
    assert np.isin(half.names.vertex, quarter.names.vertex).all()
