"""The way the power takes through the graph."""

from collections import deque
from dataclasses import dataclass

from mild_badger.core.drivetrain.graph import Drivetrain, Equation

__all__ = ["PowerPath", "power_path"]


@dataclass(frozen=True)
class PowerPath:
    """Bodies and couplings from one body to another, in order."""

    bodies: tuple[str, ...]
    couplings: tuple[Equation, ...]

    @property
    def meshes(self) -> int:
        """How many meshes carry the power."""
        return sum(1 for equation in self.couplings if equation.kind.has_teeth)

    def until(self, body: str) -> "PowerPath":
        """Give the part of the path that ends at one of its bodies."""
        place = self.bodies.index(body)
        return PowerPath(self.bodies[: place + 1], self.couplings[:place])


def power_path(
    train: Drivetrain, sleeves: dict[str, str], start: str, end: str
) -> PowerPath | None:
    """Find the couplings that carry power from one body to another; None if nothing does.

    The shortest way; exact for a tree, as every box here is in gear (two ways at once would be
    two trains engaged, which the solver reports as locked).
    """
    came: dict[str, tuple[str, Equation] | None] = {start: None}
    queue = deque([start])
    while queue and end not in came:
        here = queue.popleft()
        for equation in train.touching[here]:
            if not equation.holds(sleeves):
                continue
            for there, _ in equation.terms:
                if there not in came:
                    came[there] = (here, equation)
                    queue.append(there)
    if end not in came:
        return None
    bodies, couplings = [end], []
    step = came[end]
    while step is not None:
        bodies.append(step[0])
        couplings.append(step[1])
        step = came[step[0]]
    return PowerPath(tuple(reversed(bodies)), tuple(reversed(couplings)))
