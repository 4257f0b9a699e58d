"""The parts of a box, counted: gears by size and bore, shafts, sleeves."""

from collections import Counter

from mild_badger.core.vehicle.train import GearPair, Role

__all__ = ["Tally"]


class Tally:
    """How many of each part are needed, by kind and teeth, and for what."""

    def __init__(self) -> None:
        self.count: Counter[tuple[str, int]] = Counter()
        self.users: dict[tuple[str, int], dict[str, None]] = {}

    def add(self, kind: str, teeth: int, user: str, number: int = 1) -> None:
        """Count a part."""
        if number:
            self.count[kind, teeth] += number
            self.users.setdefault((kind, teeth), {})[user] = None

    def train(self, pairs: tuple[GearPair, ...], user: str, *, free: Role | None) -> None:
        """Count a train's gears and inner shafts; its first driver or last driven may run free."""
        for number, pair in enumerate(pairs):
            first = free == "driver" and number == 0
            last = free == "driven" and number == len(pairs) - 1
            self.add("free" if first else "fixed", pair.driver, user)
            self.add("free" if last else "fixed", pair.driven, user)
            for idler in pair.idlers:
                self.add("fixed", idler, user)
            self.add("shaft", 0, user, len(pair.idlers) + (number < len(pairs) - 1))
