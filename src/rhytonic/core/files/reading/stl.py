"""STL in (3D Systems, StereoLithography Interface Specification, 1989): binary and text. The format tells the points of
every triangle anew, so those on the very same place are one vertex again."""

from __future__ import annotations

import re
import struct

import numpy as np

from ..limits import MOST_FACES, BadModel, name_from, refuse_more
from ..model import Model, Node, Shape
from ..writing.stl import TRIANGLE
from .polygons import mesh_of, points_joined

_HEAD = 84
_VERTEX = re.compile(rb"^[ \t]*vertex[ \t]+(\S+[ \t]+\S+[ \t]+\S+)", re.MULTILINE)


def looks_like_stl(data: bytes) -> bool:
    """Binary by its length, text by its first words."""
    if len(data) >= _HEAD and len(data) == _HEAD + 50 * struct.unpack_from("<I", data, 80)[0]:
        return True
    return data[:5] == b"solid" and b"facet" in data[:2000]


def read_stl(data: bytes) -> Model:
    """The model of an STL file: one node.

    Raises:
        BadModel: it is cut short, too large, or a word is no number.
    """
    name = "part"
    if len(data) >= _HEAD and len(data) == _HEAD + 50 * struct.unpack_from("<I", data, 80)[0]:
        count = (len(data) - _HEAD) // 50
        refuse_more(count, MOST_FACES, "faces")
        points = np.frombuffer(data, TRIANGLE, count, _HEAD)["points"].astype(np.float64).reshape(-1, 3)
    else:
        name = name_from(data[5:200].split(b"\n", 1)[0].decode("utf-8", "replace"), "part")
        refuse_more(data.count(b"vertex"), 3 * MOST_FACES, "corners")
        words = [m.split() for m in _VERTEX.findall(data)]
        try:
            points = np.array(words, dtype=np.float64).reshape(-1, 3)
        except ValueError:
            raise BadModel("a point of the file is not three numbers") from None
        if len(points) % 3:
            raise BadModel("the file is cut short: its last triangle has not three points")
    if not len(points):
        raise BadModel("the file has no triangle: nothing in it could be shown or made")
    place, corners = points_joined(points, np.arange(len(points)))
    mesh = mesh_of(place, np.arange(len(points) // 3 + 1) * 3, corners)
    return Model((Node(name, shape=Shape(name, mesh)),))
