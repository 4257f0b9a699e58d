"""The way the power takes through the graph, and what is lost along it."""

from collections import deque
from dataclasses import dataclass
from fractions import Fraction
from math import prod

from mild_badger.core.drivetrain.graph import Drivetrain, Equation

__all__ = ["PowerPath", "power_path", "summed_efficiency"]


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

    def efficiency(self, mesh_loss: float) -> float:
        """Share of the power that arrives when each mesh loses ``mesh_loss`` of it.

        Worms and ratchets have a loss of their own.
        """
        own = prod(e.keeps for e in self.couplings if e.keeps is not None)
        meshes = sum(1 for e in self.couplings if e.kind.has_teeth and e.keeps is None)
        return own * (1.0 - mesh_loss) ** meshes


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


def summed_efficiency(branches: tuple[tuple[int, Fraction], ...], mesh_loss: float) -> float:
    """Correct a path's efficiency for the branch it leaves out before a summing differential.

    Both sides of a bevel differential carry the same torque, so each branch passes power in
    proportion to its speed. ``branches`` holds meshes and end speed of each; the path counted the
    meshes of the first. The result is the factor for the path's own efficiency, 1 without branches
    or where they turn against one another (power then circulates, and no figure is claimed).
    """
    total = sum((speed for _, speed in branches), Fraction(0))
    if not total or any(speed / total < 0 for _, speed in branches):
        return 1.0
    keeps = 1.0 - mesh_loss
    spent = sum(float(speed / total) / keeps**meshes for meshes, speed in branches)
    return 1.0 / spent / keeps ** branches[0][0]
