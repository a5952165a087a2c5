"""Numbers that standards fix."""

import hashlib

import numpy as np

from rhytonic.core.mesh.names import mix
from rhytonic.core.units import METRES, parse_length


def test_the_inch_of_1959():
    """International yard and pound agreement, 1959: one inch is 25.4 mm exactly; a foot is twelve."""
    assert METRES["in"] == 0.0254 and METRES["ft"] == 0.3048
    assert parse_length("1 in", "mm") == 25.4


def test_splitmix64():
    """G. Steele, D. Lea, C. Flood, Fast splittable pseudorandom number generators, OOPSLA 2014: outputs of the generator
    seeded with 1234567, as published with the reference code of S. Vigna (splitmix64.c)."""
    golden, state, out = 0x9E3779B97F4A7C15, 1234567, []
    for _ in range(5):
        out.append(int(mix(np.array([state], np.uint64), np.zeros(1, np.uint64))[0]))
        state = (state + golden) % 2**64
    assert out == [6457827717110365317, 3203168211198807973, 9817491932198370423, 4593380528125082431, 16408922859458223821]


def test_blake2b_of_rfc_7693():
    """RFC 7693, appendix A: BLAKE2b-512 of "abc"."""
    assert hashlib.blake2b(b"abc").hexdigest().startswith("ba80a53f981c4d0d6a2797b69f12f6e94c212f14685ac4b74b12bb6fdbffa2d1")
