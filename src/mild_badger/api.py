"""What ``import mild_badger`` offers: one short name for each thing the program can do."""

from collections.abc import Mapping
from pathlib import Path

from mild_badger.core.architectures.match import kind_of, match_box
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.compare import Offer, compare_all
from mild_badger.core.drivetrain.graph import Drivetrain
from mild_badger.core.drivetrain.solve import Solution
from mild_badger.core.drivetrain.solve import solve as solve_graph
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.evaluate import evaluate as evaluate_situation
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.function_box import place_functions, take_places
from mild_badger.core.layout.proposals import propose_layouts
from mild_badger.core.ratios.box_question import Best, BoxMatch, Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.results import GearResult
from mild_badger.core.shift.states import Proof
from mild_badger.core.shift.states import prove as prove_states
from mild_badger.core.situation import Situation
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.targets.table import read_targets
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.gears import set_gears
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import PartLine, parts_needed
from mild_badger.files import vehicle_file
from mild_badger.files.exports import Exported, export

__all__ = [
    "DEMOS",
    "BadgerError",
    "BoxMatch",
    "Change",
    "Drivetrain",
    "Edit",
    "Evaluation",
    "Exported",
    "Finding",
    "GearResult",
    "Impossible",
    "Kit",
    "Offer",
    "PartLine",
    "Proof",
    "Severity",
    "Situation",
    "Solution",
    "Vehicle",
    "compare",
    "demo",
    "edit",
    "evaluate",
    "export",
    "kit",
    "load",
    "match",
    "new",
    "parts",
    "place",
    "prove",
    "save",
    "solve",
    "take",
]


def load(path: str | Path) -> Vehicle:
    """Read a vehicle file.

    Raises
    ------
    BadgerError
        The file is not there or cannot be used; the message says what, where and the remedy.
    """
    return vehicle_file.load(Path(path))


def save(vehicle: Vehicle, path: str | Path) -> None:
    """Write a vehicle file; the version before it stays beside it as ``*.bak``.

    Raises
    ------
    BadgerError
        The file could not be written; what was there before is untouched.
    """
    vehicle_file.save(vehicle, Path(path))


def demo(name: str = "larkholm-mail-bus") -> Vehicle:
    """Give one of the demo vehicles, named in ``DEMOS``.

    >>> import mild_badger as mb
    >>> mb.demo("larkholm-street-sweeper")
    <Vehicle 'Larkholm Vale street sweeper': 5 gears, slot>
    """
    return demo_vehicle(name)


def kit(name: str = "brick-grid") -> Kit:
    """Give a kit that ships with the program: brick-grid, wood-shop or printed."""
    return shipped_kit(name)


def new(targets: str, of: Kit | None = None) -> Vehicle:
    r"""Make a vehicle from wanted ratios as a spreadsheet or a line of text has them.

    Ratios are turns in for one turn out; a negative one, or a name that begins with R, is reverse.

    >>> import mild_badger as mb
    >>> mb.new("4.0\n2.4\n1.5\n1.0\n-3.8")
    <Vehicle 'New vehicle': 5 gears, slot>
    """
    vehicle = blank_vehicle(of or kit())
    gears = read_targets(targets, RatioConvention.TURNS_IN)
    return apply_edit(vehicle, set_gears(vehicle, gears))


def edit(vehicle: Vehicle, **fields: object) -> Vehicle:
    """Change fields of a vehicle, named by their path with two underscores for each step.

    >>> import mild_badger as mb
    >>> mb.edit(mb.demo(), wheels__diameter_mm=60.0).wheels.diameter_mm
    60.0

    Raises
    ------
    BadgerError
        There is no such field, or the value cannot be used.
    """
    changes = tuple(Change(tuple(name.split("__")), value) for name, value in fields.items())
    return apply_edit(vehicle, Edit("Change", changes))


def evaluate(vehicle: Vehicle, gear: str | None = None) -> Evaluation:
    """Solve a vehicle: every gear, and the engaged one by its name on the way to the wheels.

    >>> import mild_badger as mb
    >>> shown = mb.evaluate(mb.demo(), "3")
    >>> shown.engaged.ratio, round(shown.engaged.efficiency, 3)
    (Fraction(25, 12), 0.751)
    """
    chosen = None if gear is None else vehicle.gear_called(gear)
    return evaluate_situation(vehicle, Situation(gear=None if chosen is None else chosen.id))


def match(
    vehicle: Vehicle, architecture: Kind | None = None, *, best: Best = "size"
) -> BoxMatch | Impossible:
    """Find the best set of trains; ``best`` "size" is the smallest within the limit, or "error".

    >>> import mild_badger as mb
    >>> found = mb.match(mb.demo(), best="size")
    >>> found.found.cost.pairs, round(found.found.worst_error_percent, 2)
    (12, 2.88)
    """
    return match_box(vehicle, architecture or kind_of(vehicle.box), best=best)


def take(vehicle: Vehicle, matched: BoxMatch) -> Vehicle:
    """Put a box that was found into the vehicle."""
    return apply_edit(vehicle, matched.edit(vehicle))


def compare(vehicle: Vehicle) -> tuple[Offer, ...]:
    """Work out what every architecture comes to on the same targets."""
    return compare_all(vehicle)


def place(vehicle: Vehicle) -> Vehicle:
    """Place a slot box, the best of what is found; boxes of shafts have their places without that.

    A function box is placed too where there is one.

    >>> import mild_badger as mb
    >>> placed = mb.place(mb.edit(mb.demo("larkholm-street-sweeper"), placing__seconds=2.0))
    >>> len(placed.layout.shafts) > 8
    True
    """
    placed = apply_edit(vehicle, apply_layout(vehicle, propose_layouts(vehicle)))
    if placed.functions is None:
        return placed
    return apply_edit(placed, take_places(placed, place_functions(placed)))


def prove(vehicle: Vehicle) -> Proof:
    """Solve every state that the shifter can reach.

    >>> import mild_badger as mb
    >>> sorted({state.verdict.value for state in mb.prove(mb.demo()).states})
    ['drives', 'neutral']
    """
    return prove_states(vehicle, conditions(vehicle, Straight(), locked=False))


def solve(train: Drivetrain, sleeves: Mapping[str, str] | None = None) -> Solution:
    """Solve a drivetrain graph exactly, with its sleeves in given positions."""
    return solve_graph(train, dict(sleeves or {}))


def parts(vehicle: Vehicle) -> tuple[PartLine, ...]:
    """Count every part of a vehicle and hold it against the stock.

    >>> import mild_badger as mb
    >>> mb.parts(mb.demo())[0].name
    '8-tooth gear'
    """
    return parts_needed(vehicle)
