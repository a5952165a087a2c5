"""The words of pick rules, as the recipe file has them. What each finds is in the modules beside this one."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Discriminator, Field, Tag, field_validator

from ..params import Angle, Axis, Direction, Length, Point, Strict

HexId = Annotated[str, Field(pattern=r"^[0-9a-fA-F]{1,16}$")]
EdgeId = Annotated[str, Field(pattern=r"^[0-9a-fA-F]{1,16}-[0-9a-fA-F]{1,16}$")]
OpenPoint = tuple[Length | None, Length | None, Length | None]
Within = Annotated[Angle, Field(ge=0, le=180)]
Touching = Literal["all", "any"]
Rings = Annotated[int, Field(strict=True, ge=0, le=100_000)]


Fraction = Annotated[float, Field(ge=-1e6, le=1e6)]
Place3 = tuple[Fraction, Fraction, Fraction]


class Place(Strict):
    """Where one element comes from: the step that made it, and its corners as fractions of the base form's box; ``at`` is
    its middle as fractions of the box of all that stood there, which tells apart what comes from one place.

    Of vertices and edges, ``faces`` is one id for all faces they lay at, and ``around`` where those came from, which tell
    apart what one step made of one place; where several lay at faces from one place, ``row`` says which of how many it was
    (``siblings.py``).
    """

    by: str
    role: str = ""
    points: Annotated[list[Place3], Field(min_length=1, max_length=1000)]
    at: Place3
    around: Place3 | None = None
    faces: HexId | None = None
    row: tuple[Rings, Rings] | None = None


class Meant(Strict):
    """What ids meant when they were picked: a rule that found exactly the same, or else where each element comes from.

    ``counts`` are the whole numbers, by step, that the ids were made with: with others, ids may stand for other elements.
    """

    counts: Annotated[dict[str, str], Field(max_length=10_000)]
    rule: Rule | None = None
    places: Annotated[list[Place], Field(max_length=1000)] | None = None


class Ids(Strict):
    """By stable id; an edge by its two vertex ids, joined by a hyphen or as a pair. ``meant`` decides where ids are gone."""

    ids: Annotated[list[HexId | EdgeId | tuple[HexId, HexId]], Field(max_length=2_000_000)]
    meant: Meant | None = None


class MadeBy(Strict):
    """What a step made, or what took the place of that."""

    made_by: str
    role: str | None = None


class Facing(Strict):
    """Faces whose normal is within that many degrees of an axis or a vector."""

    facing: Axis | Direction
    within: Within = 1

    @field_validator("facing")
    @classmethod
    def _has_direction(cls, value: Any) -> Any:
        if not isinstance(value, str) and not any(value):
            raise ValueError("a direction cannot be [0, 0, 0]")
        return value


class FlatAround(Strict):
    """The connected region of the same facing round a face."""

    flat_around: Rule
    within: Within = 1


class InBox(Strict):
    """Elements whose every vertex lies in the box; null is an open side."""

    in_box: tuple[OpenPoint, OpenPoint]


class Nearest(Strict):
    """The one element whose centre is nearest; ties to smaller y, then x, then z."""

    nearest: Point


class LoopThrough(Strict):
    """Edges: the loop of an edge. Faces: the band, the quads crossed by the ring of that edge."""

    loop_through: Rule


class RingThrough(Strict):
    """The ring of opposite edges of quads."""

    ring_through: Rule


class PathBetween(Strict):
    """The shortest run of edges or faces, in metres; ties to fewer elements."""

    path_between: tuple[Rule, Rule]


class SharperThan(Strict):
    """Edges whose faces turn by more than that many degrees."""

    sharper_than: Within


class Grow(Strict):
    """So many rings more; neighbours share a vertex."""

    grow: Rings
    from_: Annotated[Rule, Field(alias="from")]


class Shrink(Strict):
    """So many rings fewer."""

    shrink: Rings
    from_: Annotated[Rule, Field(alias="from")]


class ConnectedTo(Strict):
    """Whole shells."""

    connected_to: Rule


class Border(Strict):
    """Edges with one face, or their vertices."""

    border: Literal[True]


class Sides(Strict):
    """Faces by number of corners, both ends included; null is open."""

    sides: tuple[Annotated[int, Field(strict=True, ge=3)] | None, Annotated[int, Field(strict=True, ge=3)] | None]


class AllOf(Strict):
    all_of: Annotated[list[Rule], Field(min_length=1, max_length=1000)]


class AnyOf(Strict):
    any_of: Annotated[list[Rule], Field(min_length=1, max_length=1000)]


class Not(Strict):
    not_: Annotated[Rule, Field(alias="not")]


class OfEdges(Strict):
    """Vertices of edges, or faces that touch edges."""

    of_edges: Rule
    touching: Touching = "any"


class OfFaces(Strict):
    """Vertices or edges of faces."""

    of_faces: Rule


class OutlineOf(Strict):
    """Edges round a set of faces."""

    outline_of: Rule


class OfVertices(Strict):
    """Edges or faces that touch vertices."""

    of_vertices: Rule
    touching: Touching = "all"


_MODELS: dict[str, type[Strict]] = {
    "ids": Ids, "made_by": MadeBy, "facing": Facing, "flat_around": FlatAround, "in_box": InBox, "nearest": Nearest,
    "loop_through": LoopThrough, "ring_through": RingThrough, "path_between": PathBetween, "sharper_than": SharperThan,
    "grow": Grow, "shrink": Shrink, "connected_to": ConnectedTo, "border": Border,
    "sides": Sides, "all_of": AllOf, "any_of": AnyOf, "not": Not, "of_edges": OfEdges,
    "of_faces": OfFaces, "outline_of": OutlineOf, "of_vertices": OfVertices}
WORDS = ("all", *_MODELS)


def _word(value: Any) -> str | None:
    if isinstance(value, str):
        return "all" if value == "all" else None
    if isinstance(value, Strict):
        return next((w for w, m in _MODELS.items() if type(value) is m), None)
    if isinstance(value, dict):
        return next((w for w in _MODELS if w in value), None)
    return None


Rule = Annotated[
    Annotated[Literal["all"], Tag("all")] | Annotated[Ids, Tag("ids")] | Annotated[MadeBy, Tag("made_by")]
    | Annotated[Facing, Tag("facing")] | Annotated[FlatAround, Tag("flat_around")] | Annotated[InBox, Tag("in_box")]
    | Annotated[LoopThrough, Tag("loop_through")] | Annotated[RingThrough, Tag("ring_through")]
    | Annotated[PathBetween, Tag("path_between")] | Annotated[SharperThan, Tag("sharper_than")]
    | Annotated[Grow, Tag("grow")] | Annotated[Shrink, Tag("shrink")] | Annotated[ConnectedTo, Tag("connected_to")]
    | Annotated[Nearest, Tag("nearest")] | Annotated[Border, Tag("border")] | Annotated[Sides, Tag("sides")]
    | Annotated[AllOf, Tag("all_of")] | Annotated[AnyOf, Tag("any_of")] | Annotated[Not, Tag("not")]
    | Annotated[OfEdges, Tag("of_edges")] | Annotated[OfFaces, Tag("of_faces")]
    | Annotated[OutlineOf, Tag("outline_of")] | Annotated[OfVertices, Tag("of_vertices")],
    Discriminator(_word, custom_error_type="unknown_rule",
                  custom_error_message="not a pick rule; known are " + ", ".join(WORDS))]

_REBUILT: tuple[type[Strict], ...] = (Meant, *_MODELS.values())
for _model in _REBUILT:
    _model.model_rebuild()


class PickFaces(Strict):
    faces: Rule


class PickEdges(Strict):
    edges: Rule


class PickVertices(Strict):
    vertices: Rule


_PICKS: dict[str, type[Strict]] = {"faces": PickFaces, "edges": PickEdges, "vertices": PickVertices}


def _domain(value: Any) -> str | None:
    if isinstance(value, Strict):
        return next((w for w, m in _PICKS.items() if type(value) is m), None)
    return next((w for w in _PICKS if isinstance(value, dict) and w in value), None)


Pick = Annotated[
    Annotated[PickFaces, Tag("faces")] | Annotated[PickEdges, Tag("edges")] | Annotated[PickVertices, Tag("vertices")],
    Discriminator(_domain, custom_error_type="unknown_pick",
                  custom_error_message='a pick is {"faces": RULE}, {"edges": RULE} or {"vertices": RULE}')]
