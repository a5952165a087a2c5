"""Small files that grow: every reader, within seconds and megabytes, and the server answers meanwhile.

The limits are those of the kernel (setrlimit(2)) and of whoever waits; sizes are told by the kernel as well (getrusage(2)).
"""

import base64
import json
import struct
import subprocess
import sys
import textwrap
from pathlib import Path

import pytest

from rhytonic.core.files import sandbox
from rhytonic.core.files.limits import BadModel

ROOT = Path(__file__).parents[2]
SECONDS, MEGABYTES = 8, 400


def gltf(primitives, accessor, buffers=(), views=()):
    return json.dumps({"asset": {"version": "2.0"}, "scenes": [{"nodes": [0]}], "nodes": [{"mesh": 0}], "buffers": list(buffers),
                       "bufferViews": list(views), "accessors": [accessor],
                       "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}] * primitives}]}).encode()


def svg(body, head=""):
    return f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink">{head}{body}</svg>'.encode()


def dxf(entities, blocks=""):
    return (f"0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n").encode()


def doubling(word, depth):
    """Each copies the one before it twice, by a name behind whatever stands for its mark."""
    first = '<g id="a0"><path d="M0 0 L1 1"/></g>'
    return first + "".join(f'<g id="a{i}"><use {word}a{i - 1}"/><use {word}a{i - 1}"/></g>' for i in range(1, depth))


def numbers(count):
    return base64.b64encode(struct.pack("<3f", 0, 0, 0) * count).decode()


EMPTY_BLOCK = "0\nBLOCK\n8\n0\n2\nB\n70\n0\n10\n0\n20\n0\n30\n0\n3\nB\n0\nENDBLK\n8\n0\n"
FILES = {
    "an accessor without numbers, named by many": ("x.gltf", gltf(40, {"componentType": 5126, "count": 16_000_000, "type": "VEC3"})),
    "one accessor named by thousands": ("x.gltf", gltf(20_000, {"componentType": 5126, "count": 20_000, "type": "VEC3", "bufferView": 0},
                                                      [{"byteLength": 240_000, "uri": "data:application/octet-stream;base64," + numbers(20_000)}],
                                                      [{"buffer": 0, "byteLength": 240_000}])),
    "copies of copies": ("x.svg", svg(doubling('xlink:href="#', 40))),
    "copies of copies by another mark": ("x.svg", svg(doubling('href="x', 40))),
    "a style sheet that never closes": ("x.svg", svg('<path class="a" d="M0 0 L1 1"/>', f"<style>{'a{' * 400_000}</style>")),
    "a style sheet of many rules": ("x.svg", svg('<path class="a" d="M0 0 L1 1"/>' * 2000, f"<style>{'.a{stroke:red}' * 30_000}</style>")),
    "a path of many pieces": ("x.svg", svg(f'<path d="M0 0{"".join(f" L{i} {i % 7}" for i in range(200_000))}"/>')),
    "arcs that go round and round": ("x.svg", svg(f'<path d="M0 0{" A1 1 0 1 1 1 0 A1 1 0 1 1 0 0" * 30_000}"/>')),
    "rows and columns of nothing": ("x.dxf", dxf("0\nINSERT\n8\n0\n2\nB\n10\n0\n20\n0\n30\n0\n70\n32767\n71\n32767\n44\n1\n45\n1\n", EMPTY_BLOCK)),
    "one line after the other": ("x.dxf", dxf("".join(f"0\nLINE\n8\n0\n10\n{i}\n20\n{i % 5}\n11\n{i + 1}\n21\n{(i + 1) % 5}\n" for i in range(60_000)))),
    "empty lines": ("x.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n" + b"\n" * 30_000_000),
    "faces of nothing, behind a blank": ("x.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n" + b" f\n" * 2_000_000),
    "faces of many corners": ("x.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f " + b"1 2 3 " * 1_000_000 + b"\n"),
    "lines that go on": ("x.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n" + b"\\\n" * 2_000_000),
    "more elements than bytes": ("x.ply", b"ply\nformat binary_little_endian 1.0\nelement nothing 549755813888\nelement vertex 3\nproperty float x\n"
                                          b"property float y\nproperty float z\nend_header\n" + b"\0" * 36),
    "elements of nothing": ("x.ply", b"ply\nformat ascii 1.0\nelement vertex 3900000\nproperty float x\nproperty float y\nproperty float z\nend_header\n" + b"0 " * 100),
    "facets without an end": ("x.stl", b"solid x\nfacet\n" + b"vertex 0 0 0\n" * 700_000),
    "a number of a hundred thousand digits": ("x.obj", b"v 0 0 " + b"9" * 5_000_000 + b"\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"),
    "brackets within brackets": ("x.gltf", b'{"asset":' + b"[" * 3_000_000),
    "entities of entities": ("x.svg", b'<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">' + b"".join(
        f'<!ENTITY {chr(98 + i)} "{f"&{chr(97 + i)};" * 10}">'.encode() for i in range(12)) + b"]><svg>&m;</svg>")}

READ = textwrap.dedent("""
    import json, resource, sys, time
    from rhytonic.core.errors import RhytonicError
    from rhytonic.core.files.sandbox import read_drawing_apart, read_model_apart
    spent_before = 0.0
    while line := sys.stdin.buffer.readline():
        name, size = json.loads(line)
        data = sys.stdin.buffer.read(size)
        before = time.monotonic()
        try:
            if name.endswith((".svg", ".dxf")):
                read_drawing_apart(data, name)
            else:
                read_model_apart(data)
            told = ""
        except RhytonicError as error:
            told = error.message
        took, used = time.monotonic() - before, resource.getrusage(resource.RUSAGE_CHILDREN)
        spent, spent_before = used.ru_utime + used.ru_stime - spent_before, used.ru_utime + used.ru_stime
        # on a machine that is busy with other tests what passes is not what reading takes
        print(json.dumps([told, min(took, spent), used.ru_maxrss / 1024]))
""")


def room(data):
    """Megabytes that may be taken for a file: a large one needs more."""
    return MEGABYTES + 22 * max(len(data) - 1e6, 0) / 2**20


@pytest.mark.parametrize("formats", [(".svg", ".dxf"), (".obj",), (".gltf", ".ply", ".stl")])
def test_small_files_that_grow_are_read_or_refused_in_time_and_room(formats):
    # the kernel tells the most that any reader has taken so far: those that may take least come first
    files = sorted(((what, *f) for what, f in FILES.items() if f[0].endswith(formats)), key=lambda f: len(f[2]))
    sent = b"".join(json.dumps([name, len(data)]).encode() + b"\n" + data for _, name, data in files)
    done = subprocess.run([sys.executable, "-c", READ], input=sent, capture_output=True, env={
        "PYTHONPATH": str(ROOT / "src"), "OPENBLAS_NUM_THREADS": "1", "PATH": "/usr/bin:/bin"})
    answers = [json.loads(line) for line in done.stdout.splitlines()]
    assert len(answers) == len(files), done.stderr.decode()[-2000:]
    for (what, _, data), (told, took, megabytes) in zip(files, answers, strict=True):
        assert took < SECONDS + 2.5 * len(data) / 2**20, (what, told)
        assert megabytes < room(data), (what, told)
        for word in ("Error", "svgelements", "ezdxf", "numpy", "NoneType", "object", "index", "Traceback", "0x"):
            assert word not in told.replace("objects and groups", ""), (what, told)


def test_what_a_reader_was_ended_by_is_what_is_told(monkeypatch):
    """Seconds of its own, whatever passes meanwhile; seconds that pass; megabytes."""
    name, data = FILES["arcs that go round and round"]
    monkeypatch.setattr(sandbox, "_SECONDS", 0.2)
    monkeypatch.setattr(sandbox, "_SECONDS_EACH", 0.5)
    for patience in (1e6, 0.01):
        monkeypatch.setattr(sandbox, "_PATIENCE", patience)
        with pytest.raises(BadModel, match="longer than 1 s"):
            sandbox.read_drawing_apart(data, name)
    monkeypatch.undo()
    monkeypatch.setattr(sandbox, "_MEMORY", 2**20)
    with pytest.raises(BadModel, match="more memory"):
        sandbox.read_model_apart(FILES["faces of nothing, behind a blank"][1])
