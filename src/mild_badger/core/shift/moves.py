"""From gear to gear: which sleeves move, in which order, and through which neutral."""

from dataclasses import dataclass

from mild_badger.core.message import say
from mild_badger.core.vehicle.boxes import Box
from mild_badger.core.vehicle.sleeves import describe_sleeve

__all__ = ["GearChange", "Move", "shift_between"]


@dataclass(frozen=True)
class Move:
    """One sleeve from one place to another; None is its neutral."""

    sleeve: str
    start: str | None
    end: str | None

    @property
    def summary(self) -> str:
        """Say it."""
        name = describe_sleeve(self.sleeve)
        return (
            say("shift.into", name=name, end=self.end)
            if self.end
            else say("shift.out-of", name=name, start=self.start)
        )


@dataclass(frozen=True)
class GearChange:
    """From one gear to another, None being neutral: all sleeves that leave go before any enters."""

    start: str | None
    end: str | None
    moves: tuple[Move, ...]

    @property
    def through_neutral(self) -> bool:
        """Whether the box is in neutral on the way."""
        outs = [move for move in self.moves if move.end is None]
        return bool(outs) and len(outs) < len(self.moves)

    @property
    def one_pull(self) -> bool:
        """Whether one sleeve goes straight from one side to the other."""
        return len(self.moves) == 2 and self.moves[0].sleeve == self.moves[1].sleeve

    @property
    def states(self) -> tuple[dict[str, str], ...]:
        """Settings of the sleeves after each move, counted from where the first one starts.

        Sleeves that stay in all the while are left out.
        """
        now = {move.sleeve: move.start for move in self.moves if move.start is not None}
        states = []
        for move in self.moves:
            now.pop(move.sleeve, None)
            if move.end is not None:
                now[move.sleeve] = move.end
            states.append(dict(now))
        return tuple(states)

    @property
    def summary(self) -> str:
        """Say what moves, in order."""
        if not self.moves:
            return say("shift.nothing-moves")
        if self.one_pull:
            sleeve, start, end = self.moves[0].sleeve, self.moves[0].start, self.moves[1].end
            name = describe_sleeve(sleeve)
            return say("shift.from-through-neutral-to-in-one-pull", name=name, start=start, end=end)
        return ", ".join(move.summary for move in self.moves)


def shift_between(box: Box, start: str | None, end: str | None) -> GearChange:
    """List the moves from one gear to another; gears without a place are as neutral."""
    one = box.engaged(start) if start is not None else {}
    other = box.engaged(end) if end is not None else {}
    outs = [Move(s, place, None) for s, place in one.items() if other.get(s) != place]
    ins = [Move(s, None, place) for s, place in other.items() if one.get(s) != place]
    return GearChange(start, end, (*outs, *ins))
