"""Parts on the texture square, their layout as a picture, and patterns."""

from __future__ import annotations

from typing import Any

import numpy as np
from flask import Response

from ..core.construct.charts.held import held_places
from ..core.construct.charts.opening import openings
from ..core.errors import RhytonicError
from ..core.handover.layout_picture import layout_png, layout_svg
from ..core.inspect.thresholds import DEFAULT
from ..core.inspect.wrapping import MOST_STRETCH, layout_figures, overlapping_islands
from ..core.mesh.marks import SEAM, edge_mark
from ..core.mesh.names import hex_of
from ..core.mesh.uv import Flat, islands_of, uvs
from ..core.pattern.draw import Sources, as_png, drawn
from ..core.pattern.pattern import Layer
from ..core.pick.resolve import resolve
from ..core.recipe.built import build as build_parts
from ..core.recipe.greys import island_outlines, pattern_called
from ..core.recipe.leaving import leaving
from ..core.recipe.one_square import share_square
from ..core.units import METRES
from ..core.wrap.pack import HeldPlace, Pack
from ..store.errors import NotThere
from .blueprint import blueprint
from .builds_api import room
from .schemas import BuildPath, Fault, PartPath
from .workroom import Standing, part_of
from .wrap_schemas import (
    HeldPlaces,
    LayoutQuery,
    PackPortion,
    PartLayout,
    PatternPath,
    PatternQuery,
    SeamEdges,
    SeamTrial,
    SharedSquare,
    SharedTrial,
    UvFigures,
)

api = blueprint("wrap", __name__, "/api/builds", {404: Fault, 409: Fault, 422: Fault, 503: Fault})

_FILE = {200: {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}}
_TYPES = {"png": "image/png", "svg": "image/svg+xml"}


@api.get("/<build_id>/parts/<path:part_id>/layout", responses={200: PartLayout})
def part_layout(path: PartPath) -> Any:
    """How a part's cage lies on the texture square: islands, stretch, what is turned over or lies over something."""
    standing = room().at(path.build_id)
    with standing.bench.held():
        mesh = standing.run(part_of(standing.document, path.part_id)).cage.mesh
        seams = np.flatnonzero(edge_mark(mesh, SEAM) > 0.5).tolist()
        uv = uvs(mesh)
        if uv is None:
            return PartLayout(island=[], stretch=[], turned=[], over=[], seams=seams, figures=None).model_dump()
        flat = Flat.of(mesh, uv)
        return PartLayout(
            island=islands_of(mesh, uv).tolist(), stretch=np.minimum(flat.face_stretch, MOST_STRETCH).round(4).tolist(),
            turned=np.flatnonzero(flat.turned).tolist(), over=overlapping_islands(mesh, DEFAULT).tolist(), seams=seams,
            figures=UvFigures.model_validate(layout_figures(mesh))).model_dump()


@api.get("/<build_id>/layout", responses=_FILE)
def layout(path: BuildPath, query: LayoutQuery) -> Any:
    """The texture square as a picture for a paint program, several parts on one square."""
    standing = room().at(path.build_id)
    document = standing.document
    name = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "-" for c in (document.name or "build"))
    with standing.bench.held():
        parts = leaving(document, build_parts(document, evaluator=standing.evaluator), query.of)
        meshes = [(p.name, p.mesh) for p in parts if p.curve is None]
        data = layout_svg(meshes, query.size, query.fill) if query.format == "svg" else \
            layout_png(meshes, query.size, int(query.depth), query.fill)
    return Response(data, mimetype=_TYPES[query.format], headers={
        "Content-Disposition": f'attachment; filename="{name}-layout.{query.format}"', "X-Content-Type-Options": "nosniff"})


@api.post("/<build_id>/seams", responses={200: SeamEdges})
def seams(path: BuildPath, body: SeamTrial) -> Any:
    """Where a part would best be cut to be laid flat, beside the seams it has: sharp edges first, and where it shows least.
    Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    with standing.bench.held():
        mesh = standing.run(part_of(standing.document, body.part)).cage.mesh
        t = mesh.topology
        cut = edge_mark(mesh, SEAM) > 0.5
        ends = mesh.names.vertex[t.edges[openings(mesh, np.arange(t.face_count), cut)]].reshape(-1, 2)
    return SeamEdges(edges=[f"{a}-{b}" for a, b in zip(hex_of(ends[:, 0]), hex_of(ends[:, 1]))]).model_dump()


@api.post("/<build_id>/held", responses={200: HeldPlaces})
def held(path: BuildPath, body: SeamTrial) -> Any:
    """Where the last step that packs a part sets its islands down, as its ``density`` and ``places`` hold them there.
    Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    part = part_of(standing.document, body.part)
    packing = [n for n, step in enumerate(part.steps) if isinstance(step, Pack) and step.enabled]
    if not packing:
        raise NotThere("no step packs the part yet; pack its pieces, and they can be held where they come to lie")
    at = packing[-1]
    step = part.steps[at]
    with standing.bench.held():
        before, after = (standing.run(part, upto=n).surface.mesh for n in (at, at + 1))
    scale, found = held_places(before, after)
    density = step.density if step.density != "fit" else scale * step.resolution / 100
    return HeldPlaces(step=step.id or "", density=density, places=[
        HeldPlace(face=h.face, at=h.at, quarter=h.quarter) for h in found]).model_dump()


@api.post("/<build_id>/shared-square", responses={200: SharedSquare})
def shared_square(path: BuildPath, body: SharedTrial) -> Any:
    """How several parts would be packed to lie on one square at one density, each in its own portion. Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    parts = [part_of(standing.document, p) for p in body.parts]
    with standing.bench.held():
        found = share_square(standing.document, parts, standing.evaluator, body.resolution, body.margin)
    return SharedSquare(resolution=body.resolution, margin=body.margin, density=found[0].density, portions=[
        PackPortion(part=p.part, step=p.step, area=list(p.area)) for p in found]).model_dump()


@api.get("/<build_id>/patterns/<pattern_id>/picture", responses=_FILE)
def pattern_picture(path: PatternPath, query: PatternQuery) -> Any:
    """A pattern as a 16-bit greyscale PNG."""
    standing = room().at(path.build_id)
    found = pattern_called(standing.document, path.pattern_id)
    if found is None:
        raise NotThere("there is no such pattern")
    with standing.bench.held():
        sources = Sources(room().greys, lambda layer: _outlines(standing, layer))
        data = as_png(drawn(found, METRES[standing.document.unit], sources, query.most))
    told = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "-" for c in found.name)
    return Response(data, mimetype="image/png", headers={
        "Content-Disposition": f'inline; filename="{told}.png"', "X-Content-Type-Options": "nosniff",
        "Cache-Control": "no-cache"})


def _outlines(standing: Standing, layer: Layer) -> Any:
    """Outlines of the islands that a layer follows, as the part's surface is laid out now; none while it cannot be had."""
    part = standing.document.part(layer.part or "")
    if part is None:
        return np.zeros((0, 2, 2))
    try:
        cage = standing.run(part).cage
        faces = None if layer.pick is None else resolve(cage.mesh, cage.history, layer.pick).elements
        return island_outlines(cage.mesh, faces)
    except RhytonicError:
        return np.zeros((0, 2, 2))
