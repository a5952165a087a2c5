"""The tolerances of the kernel, in one place. Lengths in metres, angles in radians unless said otherwise."""

from __future__ import annotations

#: slack of ``in_box`` picks, and how near a plane a point counts as lying on it
ON_PLANE = 1e-6
#: centres nearer to each other than this tie in ``nearest``
TIE = 1e-9
#: an area below this share of the square of the longest edge counts as none
NO_AREA = 1e-10
#: an absolute area, in m², below which a face has no area whatever its shape
NO_AREA_ABSOLUTE = 1e-18
#: unit normals whose dot product exceeds 1 − this are one condition
SAME_NORMAL = 1e-12
#: singular values below this share of the largest are taken as zero in least-squares offsets
RANK = 1e-7
#: a vector shorter than this has no direction
NO_DIRECTION = 1e-14
#: |d| may exceed the distance asked for by at most this factor
OFFSET_LIMIT = 10.0
#: the share of the width that uses up an edge at which a ``limit`` stops: a hair before, so that no face loses its area
BEFORE_COLLAPSE = 1.0 - 1e-4
#: relative slack when the two diagonals of a quad are compared
DIAGONAL_TIE = 1e-9

#: no length or coordinate beyond this, in metres
LARGEST_LENGTH = 1e6
#: no curve beyond this many points
MOST_CURVE_POINTS = 200_000
#: no mesh beyond this many faces
MOST_FACES = 10_000_000
