"""How much follows at what distance."""

from __future__ import annotations

from ..mesh.mesh import Floats


def soft_weight(t: Floats, fullness: float) -> Floats:
    """(n,) weights 1 − (3t² − 2t³)^p at t = distance / radius in 0…1, p = 4^(2·fullness − 1)."""
    out: Floats = 1.0 - (3 * t**2 - 2 * t**3) ** (4.0 ** (2 * fullness - 1))
    return out
