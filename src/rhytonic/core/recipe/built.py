"""The parts of a document evaluated for hand-over, placed in their build."""

from __future__ import annotations

from dataclasses import dataclass

from ..curve.curve import Curve
from ..errors import UnknownName
from ..mesh.mesh import Mesh
from .assembly import listed
from .document import Document
from .evaluate import Evaluator
from .part import Part
from .place import placed, placed_curve
from .registry import kind_of
from .state import Evaluation


@dataclass(frozen=True)
class BuiltPart:
    """One part at the stage asked for, placement applied; ``curve`` where it still is one there."""

    part: Part
    evaluation: Evaluation
    mesh: Mesh
    curve: Curve | None = None

    @property
    def name(self) -> str:
        """What the part is called."""
        return self.part.name


def build(document: Document, stage: str = "surface", only: str | None = None,
          evaluator: Evaluator | None = None) -> list[BuiltPart]:
    """Evaluate the parts of a document for hand-over.

    Args:
        stage: ``surface``, ``cage`` or the id of a step; with a step, only parts that have it.
        only: name of the one part wanted.

    Raises:
        StepError: a step could not run.
        UnknownName: no such part or stage.
    """
    evaluator = evaluator or Evaluator()
    document = with_separated(document, evaluator)
    parts = [p for p in document.parts if only in (None, p.name) and not p.template and not _in_template(document, p)]
    if only is not None and not parts:
        raise UnknownName(f"there is no part '{only}'; parts are {listed(p.name for p in document.parts)}")
    out = []
    for part in parts:
        upto = _steps_upto(part, stage)
        if upto is None:
            continue
        evaluation = evaluator.run(part, document.unit, "handover", upto=upto, within=document)
        surface = evaluation.surface
        curve = None if surface.curve is None else placed_curve(surface.curve, document, part)
        out.append(BuiltPart(part, evaluation, placed(surface.mesh, document, part), curve))
    if not out and stage not in ("surface", "cage"):
        raise UnknownName(f"there is no step '{stage}'; a stage is surface, cage or one of "
                          f"{listed(s.id or '' for p in parts for s in p.steps)}")
    return out


def _steps_upto(part: Part, stage: str) -> int | None:
    if stage == "surface":
        return len(part.steps)
    if stage == "cage":
        return part.cage_end()
    return next((i + 1 for i, s in enumerate(part.steps) if s.id == stage), None)


def _in_template(document: Document, part: Part) -> bool:
    return any(g.template for g in document.groups_of(part))


def with_separated(document: Document, evaluator: Evaluator) -> Document:
    """The document with every part that a ``separate`` sends shells into, where they are not there: their number is known
    only once the step has run."""
    more: list[Part] = []
    known = {p.name for p in document.parts}
    firsts = [p.steps[0].model_dump() for p in document.parts if p.steps and p.steps[0].kind == "from_part"]
    taken = {(f["part"], f["step"], f["shell"]) for f in firsts}
    for part in document.parts:
        for number, step in enumerate(part.steps):
            if step.kind != "separate" or not step.enabled:
                continue
            above = evaluator.run(part, document.unit, "handover", upto=number, within=document).surface
            pieces = int(kind_of(step).sent(step, above.mesh, None).max(initial=0))
            for piece in range(1, pieces + 1):
                name = f"{step.model_dump()['into']} {piece}"
                if name not in known and not {(part.id, step.id, piece), (part.name, step.id, piece)} & taken:
                    known.add(name)
                    more.append(Part.model_validate({
                        "name": name, "id": f"{part.id}-{step.id}-{piece}", "group": part.group, "pivot": part.pivot,
                        "placement": part.placement, "joint": part.joint, "steps": [
                            {"id": "from_part1", "kind": "from_part", "part": part.id, "step": step.id, "shell": piece}]}))
    return document.model_copy(update={"parts": [*document.parts, *more]}) if more else document
