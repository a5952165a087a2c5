"""Distances that a person types for the inspections that need one."""

from __future__ import annotations

from dataclasses import dataclass

#: vertices nearer than this count as doubled, in metres
DOUBLED = 1e-5
#: walls thinner than this are too thin, in metres
THIN = 1e-4


@dataclass(frozen=True)
class Limits:
    doubled: float = DOUBLED
    thin: float = THIN


DEFAULT = Limits()
