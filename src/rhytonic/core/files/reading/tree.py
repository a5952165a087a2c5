"""Things found one after the other, with the names above them, put into a tree."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..limits import MOST_NODES, refuse_more
from ..model import Model, Node


@dataclass(frozen=True)
class Entry:
    """One thing of a file.

    Attributes:
        path: names of what it is in, outermost first.
        first: where its faces begin in the file.
    """

    name: str
    path: tuple[str, ...]
    node: Node
    first: int = 0


def tree_of(found: Sequence[Entry]) -> Model:
    """The model: a node for every name above, those of one name and place being one; things of one name in one place are
    told apart by a number."""
    refuse_more(len(found), MOST_NODES, "objects")

    def below(things: list[Entry], depth: int) -> tuple[Node, ...]:
        out: list[Node] = []
        inner: dict[str, list[Entry]] = {}
        for thing in things:
            if len(thing.path) > depth:
                inner.setdefault(thing.path[depth], []).append(thing)
        opened: set[str] = set()
        for thing in things:
            if len(thing.path) == depth:
                out.append(thing.node)
            elif thing.path[depth] not in opened:
                opened.add(thing.path[depth])
                out.append(Node(thing.path[depth], children=below(inner[thing.path[depth]], depth + 1)))
        return tuple(out)

    return Model(distinct(below(list(found), 0)))


def distinct(nodes: tuple[Node, ...]) -> tuple[Node, ...]:
    """The tree with no name twice in it: a number is put behind those that come later."""
    taken: dict[str, int] = {}
    used: set[str] = set()

    def renamed(node: Node) -> Node:
        name, number = node.name, taken.get(node.name, 1)
        while name in used:
            number += 1
            name = f"{node.name} {number}"
        taken[node.name] = number
        used.add(name)
        return replace(node, name=name, children=tuple(renamed(c) for c in node.children))

    return tuple(renamed(n) for n in nodes)
