"""What the keys of the box do: reverse, a forward gear, a gear up or down."""

from collections.abc import Callable

from mild_badger.app.session import Session
from mild_badger.core.message import say

__all__ = ["Shifts"]


class Shifts:
    """Engages gears of the vehicle in work; ``complain`` says why one is not there."""

    def __init__(self, session: Session, complain: Callable[[str], None]) -> None:
        self._session, self._complain = session, complain

    def reverse(self) -> None:
        """Engage reverse; the next one where there are several."""
        backwards = [gear.id for gear in self._session.vehicle.real.gears if gear.reverse]
        if not backwards:
            self._complain(say("window.this-vehicle-has-no-reverse-gear-add-one-on"))
            return
        now = self._session.situation.gear
        after = backwards.index(now) + 1 if now in backwards else 0
        self._session.engage(backwards[after % len(backwards)])

    def forward(self, number: int) -> None:
        """Engage a forward gear by its number."""
        forwards = [gear.id for gear in self._session.vehicle.real.gears if not gear.reverse]
        if number <= len(forwards):
            self._session.engage(forwards[number - 1])
        else:
            self._complain(
                say(
                    "window.this-vehicle-has-forward-gears-not",
                    count_of_forwards=len(forwards),
                    number=number,
                )
            )

    def by(self, step: int) -> None:
        """Shift up or down: reverse, neutral, then the forward gears."""
        gears = self._session.vehicle.real.gears
        row: list[str | None] = [gear.id for gear in gears if gear.reverse]
        row += [None, *(gear.id for gear in gears if not gear.reverse)]
        place = row.index(self._session.situation.gear) + step
        if 0 <= place < len(row):
            self._session.engage(row[place])
