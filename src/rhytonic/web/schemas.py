"""What the API takes and gives; the interface's types are generated from these."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.inspect.thresholds import DOUBLED, THIN
from ..core.pick.rules import Pick
from ..core.recipe.document import Document
from ..core.units import Unit


class Told(BaseModel):
    """Base of what is told and asked; built when first needed, as a start needs few of them."""

    model_config = ConfigDict(defer_build=True)


class Taken(Told):
    """Base of what is taken from outside."""

    model_config = ConfigDict(extra="forbid")


class BuildPath(Told):
    build_id: Annotated[str, Field(pattern=r"^[0-9a-f]{1,32}$")]


class PartPath(BuildPath):
    part_id: Annotated[str, Field(max_length=200)]


class PicturePath(Told):
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Fault(Told):
    """A refusal, in one sentence, with its place where it has one."""

    code: str
    message: str
    said: str | None = Field(default=None, description="the sentence without its place, for whoever sees the place")
    part: str | None = None
    step: str | None = None
    parameter: str | None = None
    revision: int | None = None
    problems: list[str] | None = Field(default=None, description="where there are several: the first fifty")
    more: int | None = Field(default=None, description="how many problems are left out of those")


class FindingInfo(Told):
    kind: str
    count: int
    step: str
    elements: Literal["faces", "edges", "vertices"]
    ids: list[str]
    surface: bool = False


class PickTrial(Taken):
    """A rule to be answered against a part's cage as it stands."""

    revision: int | None = None
    part: str
    pick: Pick


class ExtentTrial(PickTrial):
    """A pick to be measured, in the part's own axes or as placed in the build."""

    space: Literal["part", "build"] = "part"
    above: str | None = Field(default=None, description="id of a step: what stands above it is measured, not the cage")


class ExtentInfo(Told):
    """How far a pick reaches, in the build's unit."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]
    mean: tuple[float, float, float] = Field(description="mean of its vertices")
    normal: tuple[float, float, float] = Field(description="area-weighted, of length 1; zero where normals cancel out")
    length: float = Field(description="of the picked edges, or round the picked faces")
    area: float


class FindingsQuery(Told):
    part: str
    revision: int | None = None
    doubled: float = Field(default=DOUBLED, gt=0, le=1, description="vertices nearer than this, in metres, are doubled")
    thin: float = Field(default=THIN, ge=0, le=10, description="walls thinner than this, in metres, are too thin")


class Findings(Told):
    part: str
    key: str
    findings: list[FindingInfo]


class StepStatus(Told):
    id: str
    faces_before: int
    faces_after: int
    skipped: bool
    missing: int
    again: str | None
    error: str | None
    notes: list[str]


class PartStatus(Told):
    id: str
    name: str
    triangles: int
    faces: int
    cage_faces: int
    cage_corners: int
    smooth_faces: int = Field(description="faces above the smooth surface, or of the surface where there is none")
    smooth_corners: int = Field(description="corners of those: each becomes a face, then four for each level more")
    smooth_times: float = Field(description="how many times as many faces the steps below the smooth surface make of it")
    smooth_exact: bool = Field(description="whether they make as many times as many at every level, as whole copies do")
    cage_end: int
    key: str
    error: str | None = Field(default=None, description="why a linked copy cannot be had")
    steps: list[StepStatus]


class BuildSummary(Told):
    id: str
    name: str
    unit: Unit
    parts: int
    boards: int
    revision: int
    saved_at: datetime
    picture: str | None = Field(description="SHA-256 of its first board's picture, to know it by")


class BuildLook(Told):
    """What a build looks like at a revision."""

    revision: int
    size: tuple[float, float, float] = Field(description="width, height and depth of what is seen, metres; 0 for nothing")
    fit: float | None = Field(description="mean intersection over union with its boards' outlines")
    picture: str = Field(description="a PNG as a data URL")


class Build(Told):
    """A build as it stands, with what evaluating it told."""

    id: str
    name: str
    revision: int
    saved_at: datetime
    document: Document
    undo: str | None = Field(description="label of what undo would take back")
    redo: str | None
    parts: list[PartStatus]
    pick: PickMemo | None = Field(default=None, description="after undo and redo: what was picked then")


class BuildList(Told):
    builds: list[BuildSummary]


class NewBuild(Taken):
    name: Annotated[str, Field(min_length=1, max_length=200)]
    unit: Unit = "cm"
    document: dict[str, Any] | None = Field(default=None, description="a whole recipe file, instead of an empty build")


class PatchOperation(Taken):
    """One operation of RFC 6902."""

    op: Literal["add", "remove", "replace", "move", "test"]
    path: Annotated[str, Field(max_length=1000)]
    value: Any = None
    from_: Annotated[str | None, Field(alias="from", max_length=1000)] = None


class PickMemo(Taken):
    """What was picked when a change was made; undo and redo hand it back."""

    part: Annotated[str, Field(max_length=200)]
    kind: Literal["faces", "edges", "vertices"]
    elements: Annotated[list[Annotated[int, Field(ge=0, lt=2**31)]], Field(max_length=200_000)]
    ids: Annotated[list[Annotated[str, Field(pattern=r"^[0-9a-f]{16}(-[0-9a-f]{16})?$")]], Field(max_length=200_000)]


class Change(Taken):
    revision: int
    label: Annotated[str, Field(min_length=1, max_length=200)]
    key: Annotated[str, Field(min_length=8, max_length=64,
                              description="the sender's own; sent again, it is not applied again")]
    patch: Annotated[list[PatchOperation], Field(min_length=1, max_length=10_000)]
    group: Annotated[str | None, Field(max_length=700, description="joins the last change if that has the same")] = None
    pick: PickMemo | None = None
    sure: bool = Field(default=False, description="store it though a step of it takes long")


class AtRevision(Taken):
    """What the caller believes the build's revision to be."""

    revision: int


class Trial(Taken):
    """A step with trial numbers; nothing is stored."""

    revision: int
    part: str
    step: dict[str, Any]
    replace: str | None = Field(default=None, description="id of the step it stands in for; else it comes in at the mark")
    surface: bool = Field(default=True, description="whether the live steps below are wanted too")
    have: list[str] = Field(default=[], max_length=64, description="digests of connectivities the caller holds")
    sure: bool = Field(default=False, description="run it though it takes long; else it is refused with what it would take")
    window: Annotated[str | None, Field(max_length=64)] = Field(
        default=None, description="the asker's own; what the same one asks next takes this one's place")


class PickedQuery(Told):
    part: Annotated[str, Field(max_length=200)]
    step: Annotated[str, Field(max_length=200)]
    revision: int


class PartQuery(Told):
    part: Annotated[str, Field(max_length=200)]
    revision: int


class SmoothingAdvice(Told):
    """What makes a cage smooth badly, and the steps that mend it, lengths in the build's unit, ids left out."""

    ngons: int
    rims: int
    caps: list[dict[str, Any]]
    loops: list[dict[str, Any]]


class PickedElements(Told):
    """What a step picked, as elements of the cage as it stands."""

    kind: Literal["faces", "edges", "vertices"] | None = Field(description="null for steps that pick nothing")
    elements: list[int]
    lost: list[list[tuple[float, float, float]]] = Field(
        default=[], description="corners of what a step had picked and finds no more, where it stood, in the part, metres")


class Estimate(Told):
    faces: int
    triangles: int


class Packet(Told):
    """One mesh. Typed arrays travel as little-endian bytes; index buffers are null when the caller holds the digest."""

    digest: str
    vertex_count: int
    face_count: int
    positions: bytes = Field(description="float32 × 3 per vertex, metres")
    offsets: bytes | None = Field(description="uint32, faces + 1")
    corners: bytes | None = Field(description="uint32")
    triangles: bytes | None = Field(description="uint32 × 3 per triangle")
    triangle_face: bytes | None = Field(description="uint32, cage face of each triangle")
    edges: bytes | None = Field(description="uint32 × 2 per edge worth drawing")
    vertex_cage: bytes | None = Field(description="int32, cage vertex of each vertex of a surface, −1 for none")
    edge_cage: bytes | None = Field(description="int32, cage edge of each edge worth drawing of a surface, −1 for none")
    shading_vertex: bytes | None = Field(
        description="uint32, vertex of each point of shading; null where every vertex shades as one, or faces are flat")
    shading_triangles: bytes | None = Field(description="uint32 × 3 per triangle, in points of shading")
    vertex_ids: bytes | None = Field(description="uint64; null for surfaces")
    face_ids: bytes | None = Field(description="uint64; null for surfaces")
    uv: bytes | None = Field(
        description="float32 × 2 per corner, NaN for none; null for surfaces, and where nothing is laid out")


class SoftWeights(Told):
    """How far vertices of the cage follow a trial with soft selection."""

    vertex: bytes = Field(description="uint32, cage vertices before the step")
    weight: bytes = Field(description="float32, 1 for what is picked")


class Shown(Told):
    """Cage and, where live steps change it, surface."""

    cage: Packet
    surface: Packet | None
    triangles: int


class PartMesh(Shown):
    """A part, and what a trial of one of its steps told."""

    faces_before: int | None = None
    faces_after: int | None = None
    notes: list[str] = Field(default=[], description="what there is to say of a trial")
    merges: int = Field(default=0, description="vertices that give way to others in a trial")
    soft: SoftWeights | None = Field(default=None, description="of a trial with soft selection")
    others: dict[str, Shown] = Field(default={}, description="of a trial: other parts that follow it, by their ids")


class MeshQuery(Told):
    key: str | None = Field(default=None, description="names the state, so that answers can be kept")


class PictureInfo(Told):
    sha256: str
    width: int
    height: int
    media_type: str


class ExportQuery(Told):
    format: Literal["obj", "zip", "glb", "gltf", "ply", "stl", "usda", "usdz", "svg", "dxf"] = Field(
        default="obj", description="zip: an OBJ with its materials beside it")
    stage: Literal["surface", "cage"] = "surface"
    of: Annotated[list[str], Field(max_length=2000)] = Field(
        default=[], description="ids of the parts and groups wanted; everything that is not hidden where it is left out")


class NumberQuery(Told):
    text: Annotated[str, Field(max_length=200)]


class LengthQuery(NumberQuery):
    unit: Unit = "cm"


class LengthValue(Told):
    value: float


#: ``part`` and ``parts`` name others of the build, ``name`` a part to be made
ParameterQuantity = Literal["length", "angle", "ratio", "count", "choice", "flag", "part", "parts", "profile", "name",
                            "file", "board", "pattern", "patterns", "picture", "other"]


class Value(Told):
    """One value of a step kind, as a card needs it."""

    name: str
    title: str
    quantity: ParameterQuantity
    count: int = Field(description="how many numbers: 1 or 3; 0 for a list of any length")
    choices: list[str]
    default: Any
    required: bool
    least: float | None = Field(default=None, description="no value below this; for lengths in the unit of the build")
    most: float | None = None
    follows: bool = Field(default=False, description="a number that follows from what is there while it is left out")


class Parameter(Value):
    """One parameter of a step kind."""

    inner: list[Value] = Field(default=[], description="of one that is a set of values: each of them")


class OfferInfo(Told):
    """A value proposed before anybody typed one."""

    parameter: str
    value: float | str | bool | None = None
    of_size: float | list[float] | None = Field(default=None, description="times the greatest extent of what is picked")
    key: str | None = Field(default=None, description="the one of a set of values that is proposed")


class KnobInfo(Told):
    """The number that is pulled by hand, and where pulling makes it grow."""

    parameter: str
    along: Literal["view", "normal"]


class SpanInfo(Told):
    """A number of a base form that says how far it reaches along an axis."""

    axis: Literal["x", "y", "z"]
    parameter: str
    index: int | None
    times: float = Field(description="the number for one unit of length from the form's middle to its end")
    beyond: str | None = Field(description="a further parameter by which the form reaches past the number")


class KindInfo(Told):
    word: str
    title: str
    takes: list[Literal["faces", "edges", "vertices"]]
    picks: Literal["pick", "through", "nothing"] = Field(description="the parameter that says what it acts on")
    needs_pick: bool = Field(description="whether it cannot do without")
    roles: list[str]
    form: bool
    live: bool
    may_be_live: bool = Field(description="whether a step of it can be told to stay below the working mark")
    keeps_pick: bool = Field(description="picked elements have the same numbers in the result")
    at_rest: bool = Field(description="what is proposed leaves the mesh as it is")
    proposal: list[OfferInfo]
    knob: KnobInfo | None
    typed: str | None = Field(description="the parameter that is typed first")
    spans: list[SpanInfo]
    summary: list[str] = Field(description="parameters that tell the step in a line; empty for whatever was set")
    curve: Literal["none", "begins", "keeps", "makes", "ends"] = Field(description="what it has to do with curves")
    on_faces: bool = Field(description="whether it works on faces too, or on curves alone; of kinds that work on curves")
    curve_takes: list[Literal["faces", "edges", "vertices"]] = Field(
        description="kinds of element its pick may have on a curve")
    parameters: list[Parameter]


class KindList(Told):
    kinds: list[KindInfo]


class Health(Told):
    ok: bool
    version: str
    database: bool = Field(description="whether the database answers")
    held: int = Field(description="bytes of what is kept warm, as estimated")
    budget: int = Field(description="bytes that may be kept warm")
