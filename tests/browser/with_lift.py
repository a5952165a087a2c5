"""The product with one step kind more: what a person who adds one writes, and nothing else."""

from typing import Literal

import numpy as np

from rhytonic.core.mesh.geometry import area_vectors, unit
from rhytonic.core.params import Count, Length
from rhytonic.core.recipe.catalogue import CATALOGUE
from rhytonic.core.step.draft import unchanged
from rhytonic.core.step.facts import Knob, Offer
from rhytonic.core.step.kind import Edit, StepKind


class Lift(Edit):
    kind: Literal["lift"]
    by: Length
    times: Count = 1


class LiftKind(StepKind[Lift]):
    """Picked faces move along their mean normal."""

    word, title, model = "lift", "Lift", Lift
    takes = ("faces",)
    numbers = frozenset({"by", "times"})
    keeps_pick = True
    proposal = (Offer("by", of_size=0.1),)
    knob = Knob("by", "normal")

    def plan(self, p, mesh, picked, context):
        return unchanged(mesh)

    def positions(self, p, draft, mesh, picked, context):
        points = mesh.points.copy()
        normal = unit(area_vectors(mesh.points, mesh.topology, picked.elements).sum(axis=0)[None])[0]
        points[picked.vertices(mesh)] += p.by * p.times * np.asarray(normal)
        return points


CATALOGUE.append(LiftKind())  # before anything reads it


def create_app():
    from rhytonic.web.app import create_app as ordinary

    return ordinary()
