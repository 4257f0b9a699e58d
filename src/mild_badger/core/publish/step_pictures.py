"""Steps of the assembly as pictures for paper: what is there, what comes, by which way, its name.

The same parts, tints and ink as on screen, 300 dots to the inch; from where most of what comes is
seen.
"""

from collections.abc import Collection, Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from mild_badger.core.components.component import Component
from mild_badger.core.publish.space_picture import DPI, PRINTED, PackedPicture, packed
from mild_badger.core.scene.camera import VIEWS, Camera
from mild_badger.core.scene.look import LOOKS, best_look
from mild_badger.core.scene.mesh import Floats, Scene, gathered, placed_corners, scene_of
from mild_badger.core.scene.picture import picture_of
from mild_badger.core.workshop.assembly import AssemblyPlan, Build
from mild_badger.core.workshop.ways_in import apart_moves, coming_moves
from mild_badger.core.workshop.ways_out import BACK, FRONT

__all__ = ["StepPicture", "StepPictures"]

MM_PX = DPI / 25.4
WORKERS, SPREAD = 2, 1.4
ENDS = {BACK: True, FRONT: False}
"""Whether what comes by a way is seen from the output end; from the side it may be either."""
Size = tuple[float, float]
Spot = tuple[float, float]
"""To the right and down on the picture, mm."""


@dataclass(frozen=True)
class StepPicture:
    """A picture of so many mm, and of each part that comes from where to where it goes.

    ``ways`` are by the parts' keys: the middle of where it is held off, and of its place.
    """

    image: PackedPicture
    size_mm: Size
    ways: Mapping[str, tuple[Spot, Spot]]


class StepPictures:
    """Draws the steps of a plan; shapes are made once for all of them.

    Used in a ``with``: what was begun ends there.
    """

    def __init__(self, plan: AssemblyPlan) -> None:
        self.plan = plan
        self._pool: ThreadPoolExecutor | None = None
        self._begun: dict[tuple[int, Size], Future[StepPicture]] = {}

    @cached_property
    def _scene(self) -> Scene:
        return scene_of(self.plan.parts, rough=True)

    @cached_property
    def _still(self) -> Floats:
        count = len(self.plan.parts)
        return placed_corners(self._scene, self.plan.parts, np.zeros(count), np.zeros((count, 3)))

    def begin(self, steps: Sequence[Build], size_mm: Size) -> None:
        """Draw steps from now on, beside whatever else is done until they are asked for."""
        _ = self._still  # what all of them share is made once
        self._pool = self._pool or ThreadPoolExecutor(WORKERS)
        for step in steps:
            self._begun[step.number, size_mm] = self._pool.submit(self.step, step, size_mm)

    def in_order(self, steps: Sequence[Build], size_mm: Size) -> Iterator[StepPicture]:
        """Give the pictures of steps one after another; those not begun are begun now."""
        self.begin([s for s in steps if (s.number, size_mm) not in self._begun], size_mm)
        for step in steps:
            yield self._begun.pop((step.number, size_mm)).result()

    def __enter__(self) -> "StepPictures":
        return self

    def __exit__(self, *_: object) -> None:
        """Give up what was begun and nobody took."""
        if self._pool is not None:
            self._pool.shutdown(cancel_futures=True)

    def step(self, step: Build, size_mm: Size) -> StepPicture:
        """Draw what is there before a step, and what comes held off before its way in.

        For a step without parts its box as it then stands.
        """
        there = self.plan.there_before(step.number)
        moves = coming_moves(self.plan, step.coming, step.way)
        from_output = ENDS.get(step.way)
        looks = [
            look for look in LOOKS if from_output is None or (abs(look[0]) > 90) == from_output
        ]
        return self._drawn(step.box, there, moves, size_mm, looks=looks)

    def whole(self, box: str, size_mm: Size) -> StepPicture:
        """Draw one box as it stands finished."""
        keys = {part.key for part in self.plan.box(box)}
        return self._drawn(box, keys, {}, size_mm)

    def apart(self, box: str, size_mm: Size) -> StepPicture:
        """Draw all parts of one box, drawn apart along their ways."""
        moves = apart_moves(self.plan, self.plan.parts, SPREAD)
        keys = {part.key for part in self.plan.box(box)}
        return self._drawn(box, keys, {}, size_mm, off=moves)

    def _drawn(
        self,
        box: str,
        there: Collection[str],
        moves: Mapping[str, tuple[float, float, float]],
        size_mm: Size,
        *,
        looks: Sequence[tuple[float, float]] = LOOKS,
        off: Floats | None = None,
    ) -> StepPicture:
        size = (round(size_mm[0] * MM_PX), round(size_mm[1] * MM_PX))
        shown = [
            (number, part)
            for number, part in enumerate(self.plan.parts)
            if part.key in moves or (part.key in there and part.box == box)
        ]
        parts = [part for _, part in shown]
        # of a large machine a step shows little: what is hidden is left out before it is drawn
        scene = gathered([self._scene.meshes[number] for number, _ in shown])
        owner = np.repeat(np.arange(len(parts)), np.diff(scene.starts))
        still = np.vstack([np.zeros((0, 3)), *(self._stands(number) for number, _ in shown)])
        if off is None:
            away = np.array([moves.get(part.key, (0.0, 0.0, 0.0)) for part in parts])
        else:
            away = off[[number for number, _ in shown]]
        away = away.reshape(-1, 3)
        corners = still + away[owner]
        roles = ["run" if part.key in moves else "idle" for part in parts]
        sought = [n for n, role in enumerate(roles) if role == "run"]
        turn, up = VIEWS["corner"]
        if sought:
            turn, up = best_look(scene, corners, range(len(parts)), sought, looks)
        # what comes stays in the picture where it goes to, too
        room = np.vstack((corners, still[np.isin(owner, sought)]))
        eye = Camera(turn % 360.0, up).fitted(room, size, 0.94)
        drawn = picture_of(scene, corners, eye, size, paints=PRINTED, roles=roles)
        ways = {}
        for number in sought:
            middle = _middle(parts[number])
            seen = eye.seen(np.vstack((middle + away[number], middle)), size)[:, :2] / MM_PX
            (x, y), (x1, y1) = seen.tolist()
            ways[parts[number].key] = (x, y), (x1, y1)
        return StepPicture(packed(drawn.pixels), size_mm, ways)

    def _stands(self, number: int) -> Floats:
        """Give the corners of a part in its place."""
        return self._still[self._scene.starts[number] : self._scene.starts[number + 1]]


def _middle(part: Component) -> Floats:
    left, low, right, high = part.reach_mm
    return np.array(((left + right) / 2, (low + high) / 2, -(part.from_mm + part.to_mm) / 2))
