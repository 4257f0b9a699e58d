"""What is asked of a box of any architecture, and the box that answers."""

from collections import Counter
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal, TypeAlias

from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.message import say
from mild_badger.core.ratios.final_drive import factor_range
from mild_badger.core.ratios.lanes import GearGoal, SetMatch
from mild_badger.core.ratios.pool import Cost, train_cost, unpack
from mild_badger.core.ratios.propose import max_tooth_sum
from mild_badger.core.ratios.ranges import RangeMatch
from mild_badger.core.ratios.shafts import SharedCentreMatch
from mild_badger.core.ratios.standings import CentreOption, Shafts, standings
from mild_badger.core.ratios.stocked import Have, Part
from mild_badger.core.ratios.twin import TwinMatch
from mild_badger.core.vehicle.box import Slot, Train
from mild_badger.core.vehicle.boxes import Box, EitherSideBox
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import Role
from mild_badger.core.watch import Watch

__all__ = ["Best", "BoxMatch", "BoxQuestion", "Kind", "cost_of", "stock_of"]

Best = Literal["size", "error"]
Kind: TypeAlias = str
"""A way to look for a set: what files and the command line call it."""


@dataclass(frozen=True)
class BoxMatch:
    """A set, and the box that holds it.

    ``title`` names what was looked for; ``match`` is what the architecture's own search found,
    where it says more than the set. The set's cost counts every pair of the box once, those that
    are shared among them. Where not ``proven``, there were more ways than could be gone through;
    this is the best of those that were.
    """

    kind: Kind
    found: SetMatch
    box: Box
    match: SharedCentreMatch | TwinMatch | RangeMatch | None = None
    proven: bool = True
    title: str = ""

    def edit(self, vehicle: Vehicle) -> Edit:
        """Make the edit that puts the box in; the crown wheel makes up for its direction."""
        edit = apply_box(
            vehicle, self.box, say("ratios.take-the", title=self.title or self.box.title)
        )
        if self.box.turns == vehicle.box.turns:
            return edit
        side = "right" if vehicle.final_drive.crown_side == "left" else "left"
        return replace(edit, changes=(*edit.changes, Change(("final_drive", "crown_side"), side)))


@dataclass(frozen=True)
class BoxQuestion:
    """A vehicle with an empty or present box of the architecture, and what is asked of it."""

    vehicle: Vehicle
    goals: tuple[GearGoal, ...]
    tolerance: Fraction | None
    watch: Watch
    tooth_sum: int | None = None
    any_coupled: bool = False
    alone: bool = False

    @property
    def bounds(self) -> tuple[Fraction, Fraction]:
        """Bounds of the factor."""
        return factor_range(self.vehicle)

    def without_stock(self) -> "BoxQuestion":
        """Ask the same without regard to the stock."""
        search = self.vehicle.search.model_copy(update={"within_stock": False})
        return replace(self, vehicle=self.vehicle.model_copy(update={"search": search}))

    def have(self, *, any_bore: bool = False) -> Have | None:
        """Count what may be used, less what else the vehicle takes; None if stock is no limit."""
        if not self.vehicle.search.within_stock:
            return None
        reserved = self._final_drive()
        box = self.vehicle.box
        if box.free_trains and not self.alone:
            gears = [goal.gear for goal in self.goals]
            slots = [slot for slot in box.slots if isinstance(slot, Slot)]
            for row in box.rows(max(slot.column for slot in with_places(slots, gears))):
                reserved[row.teeth, "fixed"] += row.number
        return stock_of(self.vehicle.kit, reserved, any_bore=any_bore) or None

    def _final_drive(self) -> Counter[Part]:
        """Count the gears of the final drive, which the box cannot have."""
        reserved: Counter[Part] = Counter()
        for pair in () if self.alone else self.vehicle.final_drive.pairs:
            for teeth in (pair.driver, pair.driven, *pair.idlers):
                reserved[teeth, "fixed"] += 1
        return reserved

    def can_mesh(self, one: int, other: int) -> bool:
        """Whether a pair of constant mesh that stands for itself may have two sizes."""
        most = max_tooth_sum(self.vehicle)
        if most is not None and one + other > most:
            return False
        return not self.vehicle.search.seated or seats_well(self.vehicle.kit, one, other)

    @property
    def couples(self) -> Role | None:
        """Which gear of a pair between two shafts a sleeve couples; None where gears slide."""
        if self.vehicle.box.slides:
            return None
        box = EitherSideBox.of(self.vehicle.box)
        return "driver" if box is not None and box.sleeves_on == "driving" else "driven"

    def standings(self) -> tuple[CentreOption, ...]:
        """List the distances that shafts may have, with the pairs that stand there."""
        search, kit = self.vehicle.search, self.vehicle.kit
        sliding = self.vehicle.box.slides
        shafts = Shafts(
            coupled=None if sliding or self.any_coupled else kit.dog_sizes,
            couples=self.couples,
            profile_shift=search.profile_shift and kit.any_seat,
            max_tooth_sum=max_tooth_sum(self.vehicle),
        )
        return standings(kit, seated=search.seated, shafts=shafts)


def stock_of(kit: Kit, reserved: Counter[Part] | None = None, *, any_bore: bool = False) -> Have:
    """Give how many gears of each size there are; what is made as needed is left out.

    A free-running gear counts only with dog faces; ``any_bore`` counts both bores as one.
    """
    have: dict[Part, int] = {}
    for teeth in kit.sizes:
        if any_bore:
            owned = kit.owned(teeth)
            if owned is not None:
                have[teeth, "any"] = owned
            continue
        for bore in ("fixed", "free"):
            gear = kit.size(teeth, "fixed" if bore == "fixed" else "free")
            usable = gear is not None and (bore == "fixed" or gear.dog_faces)
            count = gear.stock if gear is not None and usable else 0
            if count is not None:
                have[teeth, bore] = max(count - (reserved or Counter())[teeth, bore], 0)
    return have


def cost_of(trains: list[Train]) -> Cost:
    """Add up the cost of trains."""
    return unpack(sum(train_cost(train) for train in trains))
