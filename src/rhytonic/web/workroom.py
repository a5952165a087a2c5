"""What a worker keeps warm: documents as they stand and their evaluations. Nothing here matters; all can be made again."""

from __future__ import annotations

import os
import re
from collections import OrderedDict
from collections.abc import Collection, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from threading import Lock
from typing import Any

import numpy as np

from ..core.errors import StepError, UnknownName
from ..core.files.limits import BadModel
from ..core.files.model import Model
from ..core.files.sandbox import read_model_apart
from ..core.inspect.apart_at_mirror import apart_at_mirrors
from ..core.inspect.findings import as_handed_over, inspect, inspect_surface
from ..core.inspect.thresholds import Limits
from ..core.mesh.mesh import Floats
from ..core.pattern.draw import Grey
from ..core.picture.decode import Picture, decode
from ..core.picture.grey import grey_of
from ..core.picture.trace import TRACED_SIDE
from ..core.recipe.cache import DEFAULT_BUDGET, Budget, Cache
from ..core.recipe.document import Document, read_document
from ..core.recipe.evaluate import Evaluator
from ..core.recipe.meanings import after_change
from ..core.recipe.part import Part
from ..core.recipe.registry import KINDS, kind_of
from ..core.recipe.sharing import sharing
from ..core.recipe.state import Evaluation
from ..core.step.kind import Context
from ..core.waiting import check
from ..store import builds, model_files, pictures
from ..store.database import Database
from ..store.errors import NotThere, Stale
from ..store.listening import Listener
from .asker import Askers
from .environment import MEMORY, WORKERS
from .schemas import FindingInfo, PartStatus, StepStatus

_MOST_BENCHES = 64
#: seconds between looks at which evaluator is at work
_LOOK = 0.02
#: rough bytes of a face of a model file as read
_MODEL_FACE = 300


def memory_limit(told: str | None = None) -> int:
    """Bytes that this process may keep warm: what the environment says, shared among its worker processes.

    Raises:
        ValueError: it does not say a number of bytes.
    """
    text = (os.environ.get(MEMORY, "") if told is None else told).strip().upper()
    if not text:
        whole = DEFAULT_BUDGET
    else:
        times = {"K": 2**10, "M": 2**20, "G": 2**30}.get(text[-1], 1)
        try:
            whole = int(float(text.rstrip("KMG")) * times)
        except ValueError:
            raise ValueError(f"{MEMORY} is '{text}'; give bytes, or 512M, or 2G") from None
    return max(whole // int(os.environ.get(WORKERS, "1")), 2**20)


class Bench:
    """One build being worked on."""

    def __init__(self, evaluator: Evaluator) -> None:
        self.evaluator = evaluator
        self.revision = -1
        self.document: Document | None = None
        self.findings: Cache[list[FindingInfo]] = Cache(evaluator.budget)
        #: outlines of parts in views, by surface, placement and view
        self.loops: Cache[list[Floats]] = Cache(evaluator.budget)

    def abandon(self, evaluator: Evaluator) -> None:
        """Let an evaluator end what nobody waits for by itself; whoever asks next gets another that remembers the same."""
        if self.evaluator is evaluator:
            self.evaluator = evaluator.beside()

    @contextmanager
    def held(self) -> Iterator[None]:
        """Hold the evaluator that is at work here by the time it is free: one that was let go is waited for no more.

        Raises:
            Cancelled: nobody waits for this any more.
        """
        while True:
            evaluator = self.evaluator
            if evaluator.lock.acquire(timeout=_LOOK):
                break
            check()
        try:
            yield
        finally:
            evaluator.lock.release()

    def forget(self) -> None:
        """Let everything kept warm go."""
        self.evaluator.forget()
        self.findings.clear()
        self.loops.clear()


@dataclass(frozen=True)
class Standing:
    """A build at one revision, whatever the bench goes on to: answers speak of this document and no other."""

    bench: Bench
    document: Document

    @property
    def evaluator(self) -> Evaluator:
        """Whoever evaluates it; its lock is to be held."""
        return self.bench.evaluator

    def with_part(self, part: Part) -> Standing:
        """The same with one part as it would be by a trial."""
        parts = [part if p.id == part.id else p for p in self.document.parts]
        return Standing(self.bench, self.document.model_copy(update={"parts": parts}))

    def run(self, part: Part, upto: int | None = None, asks: Collection[str] = ()) -> Evaluation:
        """A part for the views, past steps that cannot run. Hold the evaluator's lock. Steps in ``asks`` are not run where
        they would take long."""
        return self.evaluator.run(part, self.document.unit, "view", tolerant=True, upto=upto, within=self.document,
                                  asks=asks)


class Workroom:
    """The benches of one worker."""

    def __init__(self, database: Database) -> None:
        self.database, self.listener = database, Listener(database.url)
        self._benches: OrderedDict[str, Bench] = OrderedDict()
        self._lock = Lock()
        self._heights: dict[str, float] = {}
        self.budget = Budget(memory_limit())
        self.askers = Askers()
        self._pictures: Cache[Picture] = Cache(self.budget)
        self._models: Cache[Model] = Cache(self.budget)

    def bench(self, build_id: str) -> Bench:
        """The bench of a build, made where there is none; the one used longest ago gives way."""
        with self._lock:
            bench = self._benches.get(build_id)
            if bench is None:
                evaluator = Evaluator(budget=self.budget, files=self.named_file, pictures=self.greys)
                bench = self._benches[build_id] = Bench(evaluator)
            self._benches.move_to_end(build_id)
            gone = [self._benches.popitem(last=False)[1] for _ in range(len(self._benches) - _MOST_BENCHES)]
        for old in gone:
            old.forget()
        return bench

    def read(self, build_id: str, raw: dict[str, Any]) -> Standing:
        """A build as a document says; not kept, since the transaction it comes from may yet fail."""
        bench = self.bench(build_id)
        return Standing(bench, sharing(read_document(raw), bench.document))

    def keep(self, standing: Standing, revision: int) -> None:
        """Remember what is committed as a revision, for the previews that will ask for it."""
        with standing.bench.held():
            if revision > standing.bench.revision:
                standing.bench.document, standing.bench.revision = standing.document, revision

    def at(self, build_id: str, revision: int | None = None) -> Standing:
        """A build as it stands, loaded if it is not the revision asked for.

        Raises:
            Stale: the build has another revision by now. NotThere: there is no such build.
        """
        bench = self.bench(build_id)
        with bench.held():
            if bench.document is not None and revision is not None and bench.revision == revision:
                return Standing(bench, bench.document)
        with self.database.session() as session:
            row = builds.get(session, build_id)
            raw, now = row.document, row.revision
        if revision is not None and now != revision:
            raise Stale(now)
        standing = self.read(build_id, raw)
        self.keep(standing, now)
        return standing

    def picture_height(self, sha256: str) -> float:
        """Height of a picture in its widths. Raises NotThere."""
        if sha256 not in self._heights:
            with self.database.session() as session:
                row = pictures.get(session, sha256)
                self._heights[sha256] = row.height / row.width
        return self._heights[sha256]

    def greys(self, name: str) -> Grey:
        """The greys of a kept picture, for reliefs. Raises StepError, BadPicture."""
        try:
            with self.database.session() as session:
                data = pictures.get(session, name, with_data=True).data
        except NotThere:
            raise StepError(f"there is no picture '{name}' kept here; drop its file anew", "picture") from None
        return grey_of(data)

    def picture(self, sha256: str) -> Picture:
        """A picture decoded as it is traced; the last ones stay at hand while thresholds are tried. Raises NotThere."""
        held = self._pictures.get(sha256.encode())
        if held is None:
            with self.database.session() as session:
                data = pictures.get(session, sha256, with_data=True).data
            held = decode(data, TRACED_SIDE)
            self._pictures.put(sha256.encode(), held, held.size_in_bytes)
        return held

    def model(self, sha256: str) -> Model:
        """A kept model file as read. Raises NotThere, BadModel."""
        held = self._models.get(sha256.encode())
        if held is None:
            with self.database.session() as session:
                data = model_files.get(session, sha256).data
            held = read_model_apart(data)
            faces = sum(s.node.shape.mesh.topology.face_count for s in held.walk() if s.node.shape is not None)
            self._models.put(sha256.encode(), held, 1000 + _MODEL_FACE * faces)
        return held

    def named_file(self, name: str) -> Model:
        """A model file as steps name it: by its digest, as those that lie beside a recipe file stay there. Raises
        StepError."""
        try:
            return self.model(name)
        except NotThere:
            raise StepError(f"the file '{name}' is not here; bring it in by New part, From a file", "file") from None
        except BadModel as error:
            raise StepError(error.message, "file") from None


def part_of(document: Document, part_id: str) -> Part:
    """Raises UnknownName."""
    found = next((p for p in document.parts if p.id == part_id), None)
    if found is None:
        raise UnknownName(f"there is no part '{part_id}' in this build")
    return found


def status(standing: Standing, part: Part) -> PartStatus:
    """What evaluating a part told, for its recipe and the counts."""
    evaluation = standing.run(part)
    surface, cage = evaluation.surface, evaluation.cage
    t, c = surface.mesh.topology, cage.mesh.topology
    return PartStatus(
        id=part.id or "", name=part.name, triangles=int((t.sides - 2).sum()), faces=t.face_count,
        cage_faces=c.face_count, cage_corners=c.corner_count, **_smoothed(evaluation), cage_end=part.cage_end(),
        key=cage.key.hex() + surface.key.hex(),
        error=evaluation.error.message if evaluation.error else None,
        steps=[_step_status(evaluation, i) for i in range(len(part.steps))])


def _smoothed(evaluation: Evaluation) -> dict[str, Any]:
    """What the smooth surface is made of, and what is made of it: so that its faces can be told before it is made."""
    at = next((i for i in range(len(evaluation.results) - 1, -1, -1)
               if evaluation.results[i].step.kind == "subdivision"), None)
    last = evaluation.surface.mesh.topology
    if at is None:
        return {"smooth_faces": last.face_count, "smooth_corners": last.corner_count, "smooth_times": 1.0,
                "smooth_exact": True}
    above, made = evaluation.after(at).mesh.topology, evaluation.after(at + 1).mesh.topology
    return {"smooth_faces": above.face_count, "smooth_corners": above.corner_count,
            "smooth_times": last.face_count / max(made.face_count, 1),
            "smooth_exact": last.face_count % max(made.face_count, 1) == 0 and all(
                _copies_whole(r.step) for r in evaluation.results[at + 1:] if r.step.enabled and r.error is None)}


def _copies_whole(step: Any) -> bool:
    """Whether a step makes whole copies of whatever it finds: of other levels, what cuts or closes borders makes other
    numbers."""
    return (step.kind == "array" and step.pick is None) or (step.kind == "mirror" and not step.clip)


#: long thin faces spoil what is smoothed or shaded round; where they are flat they are what was meant
_ROUNDS = ("subdivision", "shade")
#: and are seen from so many times longer than wide
_LONG_SEEN = 50.0


def findings(standing: Standing, part: Part, limits: Limits) -> tuple[str, list[FindingInfo]]:
    """What inspection finds in a part's cage and surface, and the key of what was inspected. Asked for after the answer to a
    change, never in front of it."""
    bench = standing.bench
    with standing.bench.held():
        evaluation = standing.run(part)
    cage, surface = evaluation.cage, evaluation.surface
    limits = replace(limits, long=_LONG_SEEN if any(s.enabled and s.kind in _ROUNDS for s in part.steps) else np.inf)
    key = cage.key + surface.key + repr(limits).encode()
    found = bench.findings.get(key)
    if found is None:
        of_cage = as_handed_over(evaluation, inspect(evaluation.results[:part.cage_end()], limits), limits)
        of_cage += apart_at_mirrors(evaluation)
        of_surface = inspect_surface(evaluation, limits, of_cage)
        found = [FindingInfo(kind=f.kind, count=f.count, step=f.step, elements=f.elements, ids=f.ids, surface=on_surface)
                 for group, on_surface in ((of_cage, False), (of_surface, True)) for f in group]
        bench.findings.put(key, found, 500 + sum(200 + 70 * len(f.ids) for f in found))
    return cage.key.hex() + surface.key.hex(), found


def _step_status(evaluation: Evaluation, number: int) -> StepStatus:
    r = evaluation.results[number]
    error = named(r.error.message, evaluation.part) if r.error else None
    return StepStatus(id=r.step.id or "", faces_before=r.faces_before, faces_after=r.faces_after, skipped=r.skipped,
                      missing=r.missing, again=r.again, error=error, notes=list(r.notes))


def named(message: str, part: Part) -> str:
    """A sentence with the steps it speaks of called as their cards are; those taken out by the kind their id tells."""
    titles = {step.id: step.label or kind_of(step).title for step in part.steps}

    def title(told: re.Match[str]) -> str:
        kind = KINDS.get(told[1].rstrip("0123456789"))
        known = titles.get(told[1]) or (kind.title if kind is not None else None)
        return told[0] if known is None else f"“{known}”"

    return re.sub(r"'([^']+)'", title, message)


def refuse_broken(standing: Standing, before: Document, sure: bool = True) -> None:
    """Refuse a change whose own steps cannot run, or would take long unless that is ``sure``. Steps below that it breaks are
    stored and flagged instead.

    Raises:
        StepError: of the first changed step that fails.
    """
    old_parts = {p.id: p for p in before.parts}
    for part in standing.document.parts:
        old = old_parts.get(part.id)
        old_steps = {s.id: s for s in old.steps} if old is not None else {}
        touched = {s.id for s in part.steps if s.enabled and _differs(s, old_steps.get(s.id))}
        if not touched:
            continue
        evaluation = standing.run(part, asks=() if sure else [i for i in touched if i is not None])
        for result in evaluation.results:
            if result.error is not None and result.step.id in touched:
                raise result.error
        _refuse_vast_handover(part, evaluation)


def with_meanings_kept(bench: Bench, before: Document, after: Document) -> Document:
    """What a change leaves, with a meaning beside every pick by ids of the parts it touched. Hold the evaluator's lock."""
    old = {p.id: p for p in before.parts}
    parts = []
    for part in after.parts:
        was = old.get(part.id)
        if part == was or part.of is not None:
            parts.append(part)
            continue
        then = Standing(bench, before).run(was) if was is not None and was.of is None else None
        parts.append(after_change(part, Standing(bench, after).run(part), was, then))
    return after.model_copy(update={"parts": parts})


def _refuse_vast_handover(part: Part, evaluation: Evaluation) -> None:
    """Handover levels are not evaluated for views; refuse what could never be handed over."""
    for number, result in enumerate(evaluation.results):
        step = result.step
        if step.enabled and kind_of(step).live and result.error is None:
            context = Context(step.id or step.kind, "handover")
            try:
                kind_of(step).refuse_if_too_large(step, evaluation.after(number).mesh.topology, None, context)
            except StepError as error:
                raise error.at(part.name, context.step) from None


def _differs(step: Any, old: Any) -> bool:
    if old is None or type(step) is not type(old) or not old.enabled:
        return True
    plain = {"label": None}
    return bool(step.model_copy(update=plain) != old.model_copy(update=plain))
