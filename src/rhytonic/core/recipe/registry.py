"""The step kinds there are. Adding one is adding its file and a line here."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Union

from pydantic import Field

from ..edit.bevel import BevelKind
from ..edit.bridge import BridgeKind
from ..edit.connect import ConnectKind
from ..edit.crease import CreaseKind
from ..edit.cut import CutKind
from ..edit.delete import DeleteKind
from ..edit.dissolve import DissolveKind
from ..edit.duplicate import DuplicateKind
from ..edit.even_out import EvenOutKind
from ..edit.extrude import ExtrudeKind
from ..edit.extrude_edges import ExtrudeEdgesKind
from ..edit.fill import FillKind
from ..edit.flatten import FlattenKind
from ..edit.flip import FlipKind
from ..edit.hard import HardKind
from ..edit.insert_loop import InsertLoopKind
from ..edit.inset import InsetKind
from ..edit.quad_cap import QuadCapKind
from ..edit.relax import RelaxKind
from ..edit.ridge import RidgeKind
from ..edit.round_out import RoundOutKind
from ..edit.seam import SeamKind
from ..edit.shade import ShadeKind
from ..edit.slice import SliceKind
from ..edit.slide import SlideKind
from ..edit.stitch import StitchKind
from ..edit.transform import TransformKind
from ..edit.weld import WeldKind
from ..forms.box import BoxKind
from ..forms.cylinder import CylinderKind
from ..forms.plane import PlaneKind
from ..forms.quad_sphere import QuadSphereKind
from ..forms.sphere import SphereKind
from ..forms.torus import TorusKind
from ..forms.tube import TubeKind
from ..live.mirror import MirrorKind
from ..live.shell import ShellKind
from ..live.subdivision import SubdivisionKind
from ..live.to_ball import ToBallKind
from .kind import Picking, Step, StepKind

KINDS: dict[str, StepKind[Any]] = {kind.word: kind for kind in (
    BoxKind(), CylinderKind(), PlaneKind(), TubeKind(), SphereKind(), QuadSphereKind(), TorusKind(),
    TransformKind(), ExtrudeKind(), ExtrudeEdgesKind(), InsetKind(), BevelKind(), RidgeKind(), BridgeKind(),
    InsertLoopKind(), ConnectKind(), CutKind(), SliceKind(),
    SlideKind(), EvenOutKind(), RelaxKind(), RoundOutKind(), FlattenKind(),
    WeldKind(), StitchKind(), DissolveKind(), FillKind(), QuadCapKind(), DuplicateKind(), FlipKind(), DeleteKind(),
    CreaseKind(), HardKind(), SeamKind(), ShadeKind(),
    MirrorKind(), ShellKind(), SubdivisionKind(), ToBallKind(),
)}

if TYPE_CHECKING:
    AnyStep = Step
else:
    AnyStep = Annotated[Union[tuple(kind.model for kind in KINDS.values())],  # noqa: UP007 — its members are computed
                        Field(discriminator="kind")]


def kind_of(step: Step) -> StepKind[Any]:
    return KINDS[step.kind]


def is_live(step: Step) -> bool:
    """Whether a step stays below the working mark by default."""
    return kind_of(step).live or (isinstance(step, Picking) and step.live)
