"""Elements of other parts brought into a mesh, under names of their own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ...mesh import names
from ...mesh.attributes import Attribute
from ...mesh.mesh import Mesh
from ...mesh.names import Domain, Ids, Names
from ...mesh.topology import Topology


def mesh_with(mesh: Mesh, others: Sequence[Mesh], step: str) -> Mesh:
    """One mesh of ``mesh`` and what ``others`` hold, in this order; ``mesh`` keeps its numbers and ids.

    What comes from elsewhere is named by the step, the operand's place among the operands, and its id there: never by the
    name of its part. Attributes that only some of them have are filled up.
    """
    every = [mesh, *others]
    first = np.cumsum([0, *(m.topology.vertex_count for m in every)])
    corners = np.concatenate([m.topology.corners + first[i] for i, m in enumerate(every)])
    starts = np.cumsum([0, *(m.topology.corner_count for m in every)])
    offsets = np.concatenate([*(m.topology.offsets[:-1] + starts[i] for i, m in enumerate(every)), starts[-1:]])
    topology = Topology.of(int(first[-1]), offsets, corners)

    def renamed(domain: Domain) -> Ids:
        out = [mesh.names.of(domain)]
        for number, other in enumerate(others):
            ids = other.names.of(domain)
            out.append(names.name(step, domain, "", ids.size, ids[:, None], np.full((ids.size, 1), number)))
        return np.concatenate(out)

    points = np.concatenate([m.points for m in every])
    return Mesh(points, topology, Names(lambda: renamed("vertex"), lambda: renamed("face")), _attributes(every))


def _count(mesh: Mesh, a: Attribute) -> int:
    t = mesh.topology
    return {"vertex": t.vertex_count, "edge": t.edge_count, "face": t.face_count, "corner": t.corner_count}[a.domain]


def _attributes(every: Sequence[Mesh]) -> dict[str, Attribute]:
    """Edges too stand one mesh after the other: they are sorted by their vertices."""
    out: dict[str, Attribute] = {}
    for key in dict.fromkeys(k for m in every for k in m.attributes):
        like = next(m.attributes[key] for m in every if key in m.attributes)
        parts: list[Any] = []
        about: tuple[Any, ...] = ()
        for m in every:
            held = m.attributes.get(key)
            if held is not None and held.domain == like.domain and held.values.shape[1:] == like.values.shape[1:]:
                parts.append(held.values + len(about) * (held.values > 0) if about else held.values)
                # what the numbers of others stand for is told in those parts' own axes
                about += held.about if m is every[0] else (None,) * len(held.about)
            else:
                parts.append(np.full((_count(m, like), *like.values.shape[1:]), like.fill, like.values.dtype))
        out[key] = replace(like, values=np.concatenate(parts), about=about)
    return out
