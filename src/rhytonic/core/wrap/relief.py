"""Relief: a pattern or picture raised out of the surface it lies on."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from weakref import WeakKeyDictionary

import numpy as np
from pydantic import Field, model_validator

from ..construct.charts.extended import readable_images
from ..construct.charts.raised import displaced, turned_over, vertex_greys
from ..construct.charts.standing import layout_letters
from ..construct.refining.draft import refined_draft
from ..construct.refining.refine import refinement
from ..errors import StepError
from ..mesh.marks import INFINITE
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..mesh.uv import Flat, islands_of, laid_out, uvs
from ..params import Id, Length, NonNegativeLength, Quantity, Share
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.draft import Draft, unchanged
from ..step.facts import Knob, Offer
from ..step.grey import Asked
from ..step.kind import Context, Picking, Remark, StepKind

#: places of refined corners by refinement and levels, with those they come from: they stay while a height is pulled
_known: WeakKeyDictionary[Any, dict[int, tuple[Floats, Floats]]] = WeakKeyDictionary()


def _refined(draft: Draft, levels: int, uv: Floats) -> Floats:
    """(C', 2) places of the refined corners, of (C, 2) those above."""
    held = _known.setdefault(draft.data, {})
    if levels not in held or not np.array_equal(held[levels][0], uv, equal_nan=True):
        weights = draft.corner_source() if callable(draft.corner_source) else draft.corner_source
        held.clear()
        held[levels] = uv, weights @ uv
    return held[levels][1]


class Relief(Picking):
    kind: Literal["relief"]
    pick: Pick | None = Field(default=None, description="faces; all of them where left out")
    pattern: Annotated[Id, Quantity("pattern")] | None = Field(default=None, description="id or name of a pattern")
    picture: Annotated[str, Field(pattern=r"^[^\x00-\x1f\x7f/\\]{1,200}$"), Quantity("picture")] | None = \
        Field(default=None, description="digest of a picture, or the name of one beside the file")
    painted: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")] | None = \
        Field(default=None, description="where the pieces lay when the picture was painted on them")
    height: Length
    middle: Share = 0.0
    blur: NonNegativeLength = 0.0
    levels: Annotated[int, Field(strict=True, ge=0, le=8), Quantity("count")] = 0

    @model_validator(mode="after")
    def _one(self) -> Relief:
        if (self.pattern is None) == (self.picture is None):
            raise ValueError("a relief has a pattern or a picture; give one of the two")
        return self


class ReliefKind(StepKind[Relief]):
    """The surface is refined ``levels`` times without being smoothed; each point then goes along its normal by ``height``
    for white and not at all for the grey of ``middle``. Points at borders of islands take the mean of the places they have,
    so that nothing gapes."""

    word, title, model, live = "relief", "Relief", Relief, True
    takes = ("faces",)
    numbers = frozenset({"height", "middle", "blur", "pattern", "picture"})
    knob = Knob("height", "normal")
    typed = "height"
    summary = ("height",)
    proposal = (Offer("height", of_size=0.02), Offer("levels", 3))
    cost = 2e-6

    def pick_of(self, p: Relief) -> Pick | None:
        return p.pick

    def depends_on(self, p: Relief, context: Context) -> Any:
        return context.grey_key(p.pattern, p.picture), sorted(context.readable)

    def estimate(self, p: Relief, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return (topology.corner_count * 4 ** (p.levels - 1) if p.levels else topology.face_count), "levels"

    def anchored(self, p: Relief, mesh: Mesh, metres: float) -> Relief:
        """With where the pieces lie that its picture was painted on."""
        uv = uvs(mesh)
        if p.picture is None or p.painted is not None or uv is None:
            return p
        return p.model_copy(update={"painted": layout_letters(mesh, uv, laid_out(mesh, uv))})

    def remarks(self, p: Relief, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        uv = uvs(mesh)
        if p.painted is None or uv is None or layout_letters(mesh, uv, laid_out(mesh, uv)) == p.painted:
            return ()
        name = (p.picture or "")[:12]
        return (Remark(f"pieces lie elsewhere on the square than when the picture {name} was painted; hold them where they "
                       "were, by pack, or paint it anew and drop it again"),)

    def plan(self, p: Relief, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        if p.levels == 0 or not mesh.topology.face_count:
            return unchanged(mesh)
        t = mesh.topology
        # every edge as sharp as can be: halves and middles, nothing is smoothed
        chain = refinement(t, "edge_and_corner", np.full(t.edge_count, INFINITE))
        return refined_draft(mesh, chain, p.levels)

    def positions(self, p: Relief, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        uv, t = uvs(mesh), mesh.topology
        chosen = np.full(t.face_count, picked is None)
        if picked is not None:
            chosen[picked.elements] = True
        if uv is None or not laid_out(mesh, uv)[chosen].any():
            raise StepError("these faces have no place on the texture square yet; project or unwrap them first", "pick")
        flat = Flat.of(mesh, uv)
        model = float(flat.face_areas[chosen].sum())
        square = np.sqrt(model / max(float(np.abs(flat.face_signed[chosen]).sum()), 1e-300))
        name = p.pattern if p.pattern is not None else p.picture
        assert name is not None
        grey = context.grey(Asked(name, p.pattern is None, p.blur, square, mesh, context.find))
        called = context.called(name)
        over = readable_images(mesh, called) ^ bool(called & context.readable)
        if over.any():
            uv = turned_over(uv, islands_of(mesh, uv), t.corner_face, over)
        points, fine, faces = mesh.points, uv, chosen
        if draft.topology is not t:
            points, fine = draft.data.apply(mesh.points, p.levels), _refined(draft, p.levels, uv)
            faces = chosen[draft.face_source]
        greys = vertex_greys(draft.topology, fine, faces, grey, p.middle)
        return displaced(points, draft.topology, faces, (greys - p.middle) * p.height)
