"""The step kinds there are, in the order they are told. Adding one is adding its file and a line here."""

from __future__ import annotations

from typing import Any

from ..curved.arc import ArcKind
from ..curved.board_curve import BoardCurveKind
from ..curved.circle import CircleKind
from ..curved.combine import CombineKind
from ..curved.edge_curve import EdgeCurveKind
from ..curved.extrude_curve import ExtrudeCurveKind
from ..curved.lathe import LatheKind
from ..curved.offset import OffsetKind
from ..curved.path import PathKind
from ..curved.rectangle import RectangleKind
from ..curved.respace import RespaceKind
from ..curved.round_corner import RoundCornerKind
from ..curved.smooth_curve import SmoothCurveKind
from ..curved.sweep import SweepKind
from ..curved.thicken import ThickenKind
from ..edit.array import ArrayKind
from ..edit.bevel import BevelKind
from ..edit.boolean import BooleanKind
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
from ..edit.join import JoinKind
from ..edit.quad_cap import QuadCapKind
from ..edit.relax import RelaxKind
from ..edit.ridge import RidgeKind
from ..edit.round_out import RoundOutKind
from ..edit.seam import SeamKind
from ..edit.separate import SeparateKind
from ..edit.shade import ShadeKind
from ..edit.slice import SliceKind
from ..edit.slide import SlideKind
from ..edit.split_off import SplitOffKind
from ..edit.stitch import StitchKind
from ..edit.transform import TransformKind
from ..edit.weld import WeldKind
from ..forms.box import BoxKind
from ..forms.cylinder import CylinderKind
from ..forms.from_part import FromPartKind
from ..forms.mesh_file import MeshKind
from ..forms.plane import PlaneKind
from ..forms.quad_sphere import QuadSphereKind
from ..forms.sphere import SphereKind
from ..forms.torus import TorusKind
from ..forms.tube import TubeKind
from ..live.mirror import MirrorKind
from ..live.shell import ShellKind
from ..live.subdivision import SubdivisionKind
from ..live.to_ball import ToBallKind
from ..shape.bead import BeadKind
from ..shape.bend import BendKind
from ..shape.brush import BrushKind
from ..shape.follow import FollowKind
from ..shape.lattice import LatticeKind
from ..shape.noise import NoiseKind
from ..shape.stretch import StretchKind
from ..shape.taper import TaperKind
from ..shape.twist import TwistKind
from ..step.kind import StepKind
from ..wrap.pack import PackKind
from ..wrap.project import ProjectKind
from ..wrap.relief import ReliefKind
from ..wrap.straighten_uv import StraightenUvKind
from ..wrap.unwrap import UnwrapKind
from ..wrap.uv_transform import UvTransformKind

CATALOGUE: list[StepKind[Any]] = [
    BoxKind(), CylinderKind(), PlaneKind(), TubeKind(), SphereKind(), QuadSphereKind(), TorusKind(),
    FromPartKind(), MeshKind(),
    PathKind(), RectangleKind(), CircleKind(), ArcKind(), EdgeCurveKind(), BoardCurveKind(),
    RoundCornerKind(), SmoothCurveKind(), OffsetKind(), ThickenKind(), CombineKind(), RespaceKind(),
    ExtrudeCurveKind(), LatheKind(), SweepKind(),
    TransformKind(), ExtrudeKind(), ExtrudeEdgesKind(), InsetKind(), BevelKind(), RidgeKind(), BridgeKind(),
    InsertLoopKind(), ConnectKind(), CutKind(), SliceKind(),
    SlideKind(), EvenOutKind(), RelaxKind(), RoundOutKind(), FlattenKind(),
    WeldKind(), StitchKind(), DissolveKind(), FillKind(), QuadCapKind(), DuplicateKind(),
    BooleanKind(), JoinKind(), SplitOffKind(), SeparateKind(), ArrayKind(), FlipKind(), DeleteKind(),
    CreaseKind(), HardKind(), SeamKind(), ShadeKind(),
    LatticeKind(), BendKind(), TwistKind(), TaperKind(), StretchKind(), FollowKind(), NoiseKind(), BrushKind(), BeadKind(),
    ProjectKind(), UnwrapKind(), StraightenUvKind(), UvTransformKind(), PackKind(),
    MirrorKind(), ShellKind(), SubdivisionKind(), ToBallKind(), ReliefKind(),
]
