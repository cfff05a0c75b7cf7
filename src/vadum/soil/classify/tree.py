"""Decision trees over facts of which some may be missing."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from vadum.soil.contract.figure import Fork

Facts = Mapping[str, float]
Say = Callable[[Facts], str]


@dataclass(frozen=True)
class Ask:
    """A question: the facts it needs, the road they lead to, and how the number is said."""

    question: str
    needs: tuple[str, ...]
    choose: Callable[[Facts], str]
    say: Say
    roads: "dict[str, Node]"

    def known(self, facts: Facts) -> bool:
        return all(need in facts for need in self.needs)


# A leaf is a group's symbol.
Node = Ask | str


@dataclass(frozen=True)
class Walk:
    """The way taken: its forks, and the groups it can still end in (one when it is decided)."""

    forks: list[Fork] = field(default_factory=list)
    groups: list[str] = field(default_factory=list)

    @property
    def decided(self) -> str | None:
        return self.groups[0] if len(self.groups) == 1 else None


def groups_of(node: Node) -> list[str]:
    """Return every group below a node, in order, each once."""
    if isinstance(node, str):
        return [node]
    return list(dict.fromkeys(group for road in node.roads.values() for group in groups_of(road)))


def possible(node: Node, facts: Facts) -> list[str]:
    """Return the groups the facts leave open, in the tree's order."""
    if isinstance(node, str):
        return [node]
    roads = [node.roads[node.choose(facts)]] if node.known(facts) else list(node.roads.values())
    return list(dict.fromkeys(group for road in roads for group in possible(road, facts)))


def walk(node: Node, facts: Facts) -> Walk:
    """Return the walk as far as the facts lead, with the forks passed and what lay down the other roads."""
    forks = []
    while isinstance(node, Ask):
        if not node.known(facts):
            missing = ", ".join(need for need in node.needs if need not in facts)
            forks.append(Fork(question=node.question, answer="not known", taken=f"needs {missing}", open=True))
            break
        taken = node.choose(facts)
        others = [group for word, road in node.roads.items() if word != taken for group in groups_of(road)]
        forks.append(
            Fork(question=node.question, answer=node.say(facts), taken=taken, others=", ".join(dict.fromkeys(others)))
        )
        node = node.roads[taken]
    return Walk(forks, possible(node, facts))


def outcomes(node: Node, facts: Facts, supplied: frozenset[str]) -> set[frozenset[str]]:
    """Return the sets of groups that could be left once the ``supplied`` facts are measured, whatever they turn out."""
    if isinstance(node, str):
        return {frozenset([node])}
    if node.known(facts):
        return outcomes(node.roads[node.choose(facts)], facts, supplied)
    ways = [outcomes(road, facts, supplied) for road in node.roads.values()]
    if all(need in facts or need in supplied for need in node.needs):
        return set().union(*ways)
    return {frozenset().union(*(group for way in ways for group in way))}
