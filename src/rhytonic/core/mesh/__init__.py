"""The mesh value: polygons of any size over NumPy arrays, with stable ids and open attributes."""

from .attributes import Attribute
from .mesh import Mesh
from .names import Names
from .topology import Topology

__all__ = ["Attribute", "Mesh", "Names", "Topology"]
