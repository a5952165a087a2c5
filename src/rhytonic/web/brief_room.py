"""How a standing build does against its brief."""

from __future__ import annotations

from dataclasses import dataclass

import msgpack
import numpy as np
import shapely

from ..core.brief.board import Board
from ..core.brief.size import Size
from ..core.brief.views import PLANES, View, project
from ..core.errors import StepError, UnknownName
from ..core.fit.boards import outline_of, trusted_of, view_of
from ..core.fit.compare import Figures, compare
from ..core.fit.nudge import Nudge, nudge
from ..core.fit.outline import filled, projected_borders
from ..core.mesh.mesh import Floats, Mesh
from ..core.pick.rules import Pick
from ..core.recipe.document import Document
from ..core.recipe.part import Part
from ..core.recipe.place import frame_of, placed
from ..core.recipe.registry import KINDS
from ..core.size.judge import Judged, judge, tolerance_of
from ..core.size.scene import Scene
from ..core.units import METRES
from .brief_schemas import SizeInfo
from .workroom import Standing, Workroom, part_of

#: a part reaches beyond an outline by more than this share of its size
_BEYOND = 0.03


def size_infos(standing: Standing, document: Document, sizes: list[Size]) -> list[SizeInfo]:
    """Sizes judged in a document. Hold the evaluator's lock."""
    scene = Scene(document, standing.run)
    return [_told(judge(scene, size), scene.metres) for size in sizes]


def _told(judged: Judged, metres: float) -> SizeInfo:
    m, size = judged.measured, judged.size
    return SizeInfo(
        id=size.id, have=judged.have, off=judged.off, verdict=judged.verdict, problem=judged.problem,
        tolerance=tolerance_of(size, metres) if size.want is not None else None,
        drawn=m.drawn if m else None, points=[(float(x), float(y), float(z)) for x, y, z in m.points] if m else [])


def shown_on(board: Board, document: Document) -> list[Part]:
    """The parts a board shows."""
    if board.parts:
        return [p for p in document.parts if p.id in board.parts]
    return [p for p in document.parts if not p.hidden and not any(g.hidden for g in document.groups_of(p))]


@dataclass(frozen=True)
class Fitted:
    """How parts fit a board: figures, and those parts that the picture's outline does not hold."""

    board: Board
    figures: Figures
    beyond: list[str]


def fits(room: Workroom, standing: Standing, document: Document) -> list[Fitted]:
    """How a document's parts fit the boards that have an outline. Hold the evaluator's lock."""
    metres = METRES[document.unit]
    out = []
    for board in document.boards:
        view = view_of(board)
        if view is None or board.outline is None or not board.outline.rings:
            continue
        drawn = outline_of(board, metres)
        loops = {part.id or "": _loops(standing, part, view) for part in shown_on(board, document)}
        figures = compare(filled([loop for of in loops.values() for loop in of]), drawn, _trusted(room, board, metres))
        if figures is not None:
            out.append(Fitted(board, figures, [part for part, of in loops.items() if _beyond(of, drawn)]))
    return out


def _beyond(loops: list[Floats], drawn: shapely.Geometry) -> bool:
    """Whether loops reach clearly beyond the box of an outline."""
    if not loops:
        return False
    points = np.concatenate(loops)
    left, lower, right, upper = drawn.bounds
    room = _BEYOND * max(right - left, upper - lower)
    low, high = points.min(axis=0), points.max(axis=0)
    return bool((low < np.array([left, lower]) - room).any() or (high > np.array([right, upper]) + room).any())


def _trusted(room: Workroom, board: Board, metres: float) -> object | None:
    return None if board.trust.whole else trusted_of(board, room.picture_height(board.picture), metres)


def _loops(standing: Standing, part: Part, view: View) -> list[Floats]:
    """Loops round a part's surface in a view; a drag changes those of one part only."""
    surface = standing.run(part).surface
    frame = frame_of(standing.document, part)
    key = surface.key + frame.linear.tobytes() + frame.shift.tobytes() + view.encode()
    kept = standing.bench.loops
    found = kept.get(key)
    if found is None:
        mesh = placed(surface.mesh, standing.document, part)
        found = projected_borders(project(mesh.points, view), mesh)
        kept.put(key, found, 500 + sum(loop.nbytes + 100 for loop in found))
    return found


def suggestion(room: Workroom, standing: Standing, board_id: str, part_id: str, pick: Pick) -> tuple[Nudge, Floats] | None:
    """The move of picked elements that fits a board better, and the same in the part's own axes, metres. Hold the lock.

    Raises:
        UnknownName, StepError: no such board or part, or the board has no outline in a flat view.
    """
    document = standing.document
    board = next((b for b in document.boards if b.id == board_id), None)
    if board is None:
        raise UnknownName(f"there is no board '{board_id}' in this build")
    view = view_of(board)
    if view is None or board.outline is None:
        raise StepError("the board has no outline in a flat view; take its outline first")
    metres = METRES[document.unit]
    part = part_of(document, part_id)
    to_part = np.linalg.inv(frame_of(document, part).linear)
    seen = shown_on(board, document)
    others = [placed(standing.run(p).surface.mesh, document, p) for p in seen if p.id != part.id]

    def in_part(move: Floats) -> Floats:
        out: Floats = to_part @ (move @ PLANES[view])
        return out

    def moved(move: Floats) -> list[Mesh]:
        step = KINDS["transform"].model.model_validate({
            "id": "nudge", "kind": "transform", "pick": pick, "translate": tuple(in_part(move) / metres)})
        steps = list(part.steps)
        steps.insert(part.cage_end(), step)
        mark = "nudge" if part.mark is not None else None
        trial = part.model_copy(update={"steps": steps, "mark": mark})
        evaluation = standing.evaluator.run(trial, document.unit, "view", within=document)
        return [placed(evaluation.surface.mesh, document, part), *others]

    found = nudge(moved, view, outline_of(board, metres), _trusted(room, board, metres))
    return None if found is None else (found, in_part(found.move))


def packet(sizes: list[SizeInfo], fitted: list[Fitted], metres: float) -> bytes:
    """A BriefState as MessagePack."""
    boards = []
    for one in fitted:
        board, f, walk = one.board, one.figures, one.figures.model
        boards.append({
            "id": board.id, "iou": f.iou, "mean": f.mean / metres, "worst": f.worst / metres, "worst_at": f.worst_at,
            "beyond": one.beyond,
            "points": walk.points.astype("<f4").tobytes(), "near": walk.near.astype("<f4").tobytes(),
            "off": walk.off.astype("<f4").tobytes(), "ring": walk.ring.astype("<u4").tobytes()})
    overall = float(np.mean([one.figures.iou for one in fitted])) if fitted else None
    return bytes(msgpack.packb({"sizes": [s.model_dump() for s in sizes], "boards": boards, "overall": overall}))
