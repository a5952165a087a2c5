"""What is wrong with how a part is laid out on the texture square, and its figures."""

from __future__ import annotations

from typing import Any
from weakref import WeakKeyDictionary

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints
from ..mesh.uv import Flat, by_lengths, islands_of, laid_out, resolution, shared, uvs, world_sized
from ..mesh.uv_raster import CELLS, coverage, crowded
from .thresholds import Limits

_NONE: Ints = np.zeros(0, np.int64)
#: of the area used: what triangles cover less by than this is rounding
_THIN = 1e-8
#: triangles of a part that are joined to be looked at closely
_MOST_JOINED = 40_000
#: what is flattened to a line is told as stretched by this
MOST_STRETCH = 1e6


_seen: WeakKeyDictionary[Mesh, Flat | None] = WeakKeyDictionary()
_overs: WeakKeyDictionary[Mesh, tuple[float, Bools]] = WeakKeyDictionary()


def _flat(mesh: Mesh) -> Flat | None:
    """A mesh on the square, looked at once: each inspection asks, for the mesh after each step."""
    if mesh not in _seen:
        uv = uvs(mesh)
        _seen[mesh] = None if uv is None else Flat.of(mesh, uv)
    return _seen[mesh]


def layout_figures(mesh: Mesh) -> dict[str, Any] | None:
    """The ``uv`` of a report; None for a part that is not laid out."""
    flat = _flat(mesh)
    if flat is None:
        return None
    pixels = resolution(mesh) / 100
    model = flat.areas
    stretch = np.minimum(flat.stretch, MOST_STRETCH)
    density = flat.face_density[flat.face_areas > 0] * pixels
    weight = flat.face_areas[flat.face_areas > 0]
    share, _ = _over(mesh, flat)
    covered = coverage(flat.places, CELLS)
    whole = float(model.sum())
    return {
        "islands": int(islands_of(mesh, flat.uv).max()) + 1, "turned": int(flat.turned.sum()), "overlap": share,
        "coverage": float((covered > 0).mean()), "resolution": resolution(mesh),
        "stretch": {"mean": float((stretch * model).sum() / whole) if whole else 1.0,
                    "worst": float(stretch.max(initial=1.0))},
        "density": {"min": float(density.min(initial=np.inf)) if density.size else 0.0,
                    "mean": float((density * weight).sum() / weight.sum()) if density.size else 0.0,
                    "max": float(density.max(initial=0.0))}}


def _over(mesh: Mesh, flat: Flat) -> tuple[float, Bools]:
    if mesh not in _overs:
        _overs[mesh] = _lying_over(mesh, flat)
    return _overs[mesh]


def _lying_over(mesh: Mesh, flat: Flat) -> tuple[float, Bools]:
    """Share of the area used where faces lie over each other, and (F,) which do. Faces of world size repeat the square, and
    copies may share their places: they are left out. Looked at cell by cell, and where no cell shows it by what the
    triangles cover together: however thin, it is found."""
    own = ~world_sized(mesh) & ~_in_one_place(mesh, flat)
    mine = own[flat.face]
    out = np.zeros(mesh.topology.face_count, bool)
    if not mine.any():
        return 0.0, out
    places = flat.places[mine]
    low, high = places.min(axis=(0, 1)), places.max(axis=(0, 1))
    size = float((high - low).max())
    if size <= 0:
        return 0.0, out
    share, hit = crowded((places - low) / size, CELLS)
    out[flat.face[mine][hit]] = True
    return (share, out) if share else _thinly_over(mesh, flat, own)


def _thinly_over(mesh: Mesh, flat: Flat, own: Bools) -> tuple[float, Bools]:
    """The same, of pieces that no cell's middle shows to lie over each other: together their triangles then cover less than
    each by itself. Of very many triangles the cells have to do."""
    import shapely

    out = np.zeros(mesh.topology.face_count, bool)
    mine = own[flat.face] & (np.abs(flat.signed) > 0)
    if not 0 < mine.sum() <= _MOST_JOINED:
        return 0.0, out
    triangles = shapely.polygons(flat.places[mine])
    whole = float(np.abs(flat.signed[mine]).sum())
    together = float(shapely.area(shapely.union_all(triangles)))
    if whole - together <= _THIN * whole:
        return 0.0, out
    one, two = shapely.STRtree(triangles).query(triangles, predicate="intersects")
    one, two = one[one < two], two[one < two]
    meets = shapely.area(shapely.intersection(triangles[one], triangles[two])) > _THIN * whole / len(triangles)
    out[flat.face[mine][np.concatenate([one[meets], two[meets]])]] = True
    return (whole - together) / together, out


def _in_one_place(mesh: Mesh, flat: Flat) -> Bools:
    """(F,) copies that lie exactly where another face lies that is looked at, those right side out first: they share its
    place. A copy that was left behind, or whose model was moved away, is looked at like any other."""
    copies = shared(mesh)
    if not copies.any():
        return copies
    t = mesh.topology
    middle = np.stack([np.bincount(t.corner_face, flat.uv[:, k], t.face_count) / t.sides for k in (0, 1)], axis=1)
    key = np.column_stack([np.round(np.nan_to_num(middle, nan=-1e6) * 1e6 + 0.137), t.sides]).astype(np.int64)
    _, group = np.unique(key, axis=0, return_inverse=True)
    order = np.lexsort((np.arange(t.face_count), flat.turned, copies, group.ravel()))
    first = np.ones(t.face_count, bool)
    first[order[1:]] = group.ravel()[order][1:] != group.ravel()[order][:-1]
    return copies & ~first


def overlapping_islands(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces that lie over others on the square."""
    flat = _flat(mesh)
    return _NONE if flat is None else np.flatnonzero(_over(mesh, flat)[1])


def turned_islands(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces that lie turned over, but for copies that share the place of what they are copies of."""
    flat = _flat(mesh)
    return _NONE if flat is None else np.flatnonzero(flat.turned & ~_in_one_place(mesh, flat))


def stretched_faces(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces stretched more one way than across by more than the limit."""
    flat = _flat(mesh)
    if flat is None:
        return _NONE
    return np.flatnonzero((flat.face_stretch > limits.stretch) & (flat.face_areas > 0) & ~world_sized(mesh))


def uneven_density(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces of islands whose density is off the part's own by more than the limit."""
    flat = _flat(mesh)
    if flat is None:
        return _NONE
    island = islands_of(mesh, flat.uv)
    has = (island >= 0) & ~world_sized(mesh)
    if not has.any():
        return _NONE
    n = int(island.max()) + 1
    model = np.bincount(island[has], flat.face_areas[has], n)
    square = np.bincount(island[has], np.abs(flat.face_signed[has]), n)
    density = np.sqrt(square / np.where(model > 0, model, 1)) * (model > 0)
    whole = float(np.sqrt(square.sum() / model.sum())) if model.sum() > 0 else 0.0
    off = (density > 0) & ((density > whole * limits.density) | (density < whole / limits.density))
    return np.flatnonzero(has & off[np.maximum(island, 0)])


def no_uv(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces without a place, where others were given one."""
    flat = _flat(mesh)
    if flat is None:
        return _NONE
    has = laid_out(mesh, flat.uv)
    return np.flatnonzero(~has) if (has & ~by_lengths(mesh)).any() else _NONE
