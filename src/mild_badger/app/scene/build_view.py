"""A box going together in space: what is there, and what comes in along its way, or goes out."""

from collections.abc import Callable, Collection, Mapping
from dataclasses import replace

import numpy as np

from mild_badger.app.scene.parts_canvas import PartsCanvas
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.scene.look import LOOKS, best_look
from mild_badger.core.scene.mesh import Floats, placed_corners

__all__ = ["BuildView"]

COME_S = 1.1
"""How long parts take to come in."""
Moves = Mapping[str, tuple[float, float, float]]


class BuildView(PartsCanvas):
    """Parts that stand still but for those that come or go."""

    def __init__(self, theme: Theme, name: str, empty: str = "") -> None:
        super().__init__(theme)
        self.setAccessibleName(name)
        self.empty = empty
        self.there: frozenset[str] | None = None
        """Keys of the parts that are there; None for all of them."""
        self.told = ""
        """What the picture is said to show, for those who do not see it."""
        self._coming: Moves = {}
        self._apart: Floats | None = None
        self._off = 0.0
        self._goal = 0.0
        self._pace = 1.0
        self._after: Callable[[], object] | None = None
        self._looked = True

    @property
    def off(self) -> float:
        """How far off what comes still stands: 1 before it comes, 0 where it belongs."""
        return self._off

    def show_build(
        self,
        evaluation: Evaluation,
        there: Collection[str] | None,
        coming: Moves,
        *,
        off: float = 1.0,
        look: bool = True,
    ) -> None:
        """Show what is there and what comes, held off; ``look`` goes round to see that best."""
        self.there = None if there is None else frozenset(there)
        self._coming, self._off, self._goal = coming, off, off
        self._after = None
        self._looked = not look
        self.show_evaluation(evaluation)
        self._look()
        self.redraw()

    def show_apart(self, evaluation: Evaluation, moves: Floats | None) -> None:
        """Draw all parts off their places by so much (n, 3), mm."""
        self._apart = moves
        self.show_evaluation(evaluation)
        self.redraw()

    def move_in(self, goal: float, after: Callable[[], object] | None = None) -> None:
        """Let what comes go on to 0, where it belongs, or off to 1; then do what comes after."""
        self._goal, self._after = goal, after
        self.go()

    def gathered(self) -> None:
        super().gathered()
        self._looked = False
        self._look()

    def _look(self) -> None:
        """Turn so that what matters is seen."""
        scene = self.shapes()
        corners = self.corners()
        if self._looked or scene is None or corners is None or not self._coming:
            return
        self._looked = True
        sought = [n for n, part in enumerate(self.parts) if part.key in self._coming]
        shown = [n for n, role in enumerate(self.roles()) if role != "hidden"]
        looks = [(self.camera.round_deg, self.camera.up_deg), *LOOKS]
        turn, up = best_look(scene, corners, shown, sought, looks)
        owner = np.repeat(np.arange(len(self.parts)), np.diff(scene.starts))
        seen = corners[np.isin(owner, shown)]
        goal = replace(self.camera, round_deg=turn % 360.0, up_deg=up)
        self.glide(goal.fitted(seen, self._size()))

    def corners(self) -> Floats | None:
        scene = self.shapes()
        if scene is None:
            return None
        moves = np.zeros((len(self.parts), 3)) if self._apart is None else self._apart.copy()
        for number, part in enumerate(self.parts):
            if part.key in self._coming:
                moves[number] += self._off * np.array(self._coming[part.key])
        return placed_corners(scene, self.parts, np.zeros(len(self.parts)), moves)

    def roles(self) -> list[str]:
        made = []
        for part in self.parts:
            gone = self.there is not None and part.key not in self.there
            if part.key in self._coming:
                made.append("run")
            elif gone or part.kind in self.hidden:
                made.append("hidden")
            else:
                made.append("marked" if part.key == self.marked else "idle")
        return made

    def advance(self, seconds: float) -> bool:
        way = self._goal - self._off
        if not way:
            return False
        step = min(seconds * self._pace / COME_S, abs(way))
        self._off += step if way > 0 else -step
        if abs(self._goal - self._off) > 1e-9:
            return True
        self._off = self._goal
        after, self._after = self._after, None
        if after is not None:
            after()
        return self._off != self._goal

    def words(self) -> str:
        if not self.parts:
            return self.empty
        if self.told:
            return self.told
        count = len(self.parts) if self.there is None else len(self.there)
        return say("scene.parts-there-and-coming", count_of_parts=count, coming=len(self._coming))
