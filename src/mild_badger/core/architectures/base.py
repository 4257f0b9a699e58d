"""What every architecture of a box offers beside its document model.

The model (``vehicle/boxes.py``) answers what can be read off the document; here stands what has to
be worked out: the graph, the searches, the line diagram, the length, the parts.
"""

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar, Generic, TypeVar

from mild_badger.core.architectures.places import Columns, InLine, Series
from mild_badger.core.architectures.scheme import Scheme
from mild_badger.core.drivetrain.builder import Builder
from mild_badger.core.drivetrain.graph import fixed
from mild_badger.core.findings.finding import Finding
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxMatch, BoxQuestion, Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.bodies import input_shaft
from mild_badger.core.vehicle.box import BoxBase
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.tally import Tally

__all__ = ["Architecture", "SetSearch"]

AnyBox = TypeVar("AnyBox", bound=BoxBase)


@dataclass(frozen=True)
class SetSearch:
    """A way to look for an architecture's best set, and what the box that comes out is called."""

    kind: Kind
    title: str
    find: Callable[[BoxQuestion], BoxMatch | Impossible]


class Architecture(ABC, Generic[AnyBox]):
    """One architecture.

    ``model`` is its document model; ``shafts`` how many main shafts it has; ``searches`` the ways
    to look for its best set, none where it has no set.
    """

    model: ClassVar[type[Any]]
    shafts: ClassVar[int]
    searches: tuple[SetSearch, ...] = ()

    @property
    def key(self) -> str:
        """What files call it."""
        key: str = self.model.model_fields["architecture"].default
        return key

    @property
    def title(self) -> str:
        """What it is called on screen."""
        title: str = self.model.title
        return title

    @abstractmethod
    def blank(self, gears: Sequence[str]) -> AnyBox:
        """Make a box without any pair, with a place for each gear where it has places."""

    def build(self, builder: Builder, box: AnyBox, motor: str, motor_turns: int) -> None:
        """Add a box behind the motor, up to the body that leaves it.

        ``motor_turns`` is the motor's way, +1 or −1.
        """
        start = builder.shaft(input_shaft(), say("core.input"))
        builder.equations.append(fixed(motor, start))
        self.between(
            builder, box, start, builder.shaft(box.output, say("core.output")), motor_turns
        )

    @abstractmethod
    def between(
        self, builder: Builder, box: AnyBox, start: str, end: str, motor_turns: int
    ) -> None:
        """Add what stands between input and output shaft."""

    @abstractmethod
    def layers(self, box: AnyBox) -> int:
        """Count the layers of gears and sleeves one after another along the shafts."""

    @abstractmethod
    def count(self, tally: Tally, box: AnyBox, kit: Kit) -> None:
        """Count the box's parts: gears by size and bore, shafts, sleeves."""

    def scheme(self, box: AnyBox, gear: str | None) -> Scheme | None:
        """Lay the box out as a line diagram with a gear engaged; None where it has another."""
        return None

    def places(self, box: AnyBox) -> Columns | InLine | Series | None:
        """Say where the main shafts stand in space; None where that is not worked out."""
        return None

    def findings(self, box: AnyBox) -> Iterator[Finding]:
        """Say what is wrong with the box's own fields, whatever the vehicle."""
        yield from ()

    def search_for(self, box: AnyBox) -> SetSearch | None:
        """Give the search that suits a box as it stands."""
        return self.searches[0] if self.searches else None

    def remark(self, match: BoxMatch) -> tuple[str, ...]:
        """Say what is worth knowing of a box that was found, for the comparison."""
        return ()
