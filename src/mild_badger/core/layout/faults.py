"""What is wrong with how a placed box is held, as findings."""

from collections import Counter
from collections.abc import Iterator

from mild_badger.core.findings import Finding, Severity
from mild_badger.core.layout.frame import Separation, separations, shaft_cuts, walls_of
from mild_badger.core.layout.shaft_box import shaft_stack
from mild_badger.core.layout.verify import stack_of, verify_layout, verify_stack
from mild_badger.core.vehicle.box import SlotBox
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["beam_counts", "frame_words", "layout_faults", "shaft_counts"]


def layout_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Check a layout, and where it is sound how it is held; nothing where there is none."""
    if not isinstance(vehicle.box, SlotBox):
        stack = shaft_stack(vehicle)
        if stack is not None:
            yield from verify_stack(vehicle, stack)
        return
    if vehicle.layout is None:
        return
    wrong = verify_layout(vehicle)
    yield from wrong
    if wrong:
        return
    stack = stack_of(vehicle, vehicle.layout)
    for cut in shaft_cuts(vehicle, stack):
        if cut.length_u is None:
            longest = max(vehicle.kit.shaft_lengths_u, default=0)
            yield Finding(
                Severity.ERROR, "shaft-too-long", ("layout",), f"{cut.name} is too long",
                f"It must reach over {cut.needed_u:g} u; the kit's longest shaft has {longest} u. "
                "Take fewer layers, or join two shafts.",
                figure=cut.needed_u, limit=float(longest), unit="u",
            )  # fmt: skip
    for wall in walls_of(vehicle, stack):
        if any(beam.length_u is None for beam in wall.beams):
            yield Finding(
                Severity.NOTE, "beam-too-long", ("layout",), f"The {wall.name} needs joined beams",
                f"A row is longer than the kit's longest beam, "
                f"{max(vehicle.kit.beam_lengths_u, default=0)} u.",
            )  # fmt: skip
        if wall.between:
            yield Finding(
                Severity.NOTE, "holes-between", ("layout",),
                f"The {wall.name} has holes between the grid's points",
                f"{', '.join(wall.between[:4])}: set half a unit off by an offset beam.",
            )  # fmt: skip
    yield from _skipping(vehicle, separations(vehicle, stack))


def _skipping(vehicle: Vehicle, found: tuple[Separation, ...]) -> Iterator[Finding]:
    worst: dict[str, Separation] = {}
    for row in found:
        if row.skips and (row.gear not in worst or row.contact < worst[row.gear].contact):
            worst[row.gear] = row
    for row in worst.values():
        one, other = row.teeth
        yield Finding(
            Severity.WARNING, "skips-at-stall", (row.gear, "layout"),
            f"Gear {row.gear} clicks before the motor stalls",
            f"{one} with {other} in {row.slab}: {row.force_n:.0f} N push the shafts "
            f"{row.apart_mm:.2f} mm apart, and the teeth let go. A beam beside them would leave "
            f"{row.supported_mm:.2f} mm. Shafts count as round bars, an estimate.",
            figure=row.contact, limit=vehicle.kit.least_contact,
        )  # fmt: skip


def beam_counts(vehicle: Vehicle) -> Counter[int]:
    """Count the beams of the walls by length in units; none without a layout."""
    if vehicle.layout is None:
        return Counter()
    stack = stack_of(vehicle, vehicle.layout)
    beams = (beam for wall in walls_of(vehicle, stack) for beam in wall.beams)
    return Counter(beam.length_u for beam in beams if beam.length_u is not None)


def shaft_counts(vehicle: Vehicle) -> Counter[float]:
    """Count the shafts of a layout by the length to take, in units."""
    if vehicle.layout is None:
        return Counter()
    cuts = shaft_cuts(vehicle, stack_of(vehicle, vehicle.layout))
    return Counter(cut.length_u for cut in cuts if cut.length_u is not None)


def frame_words(vehicle: Vehicle) -> str:
    """Say what shafts and beams a layout takes."""
    shafts, beams = shaft_counts(vehicle), beam_counts(vehicle)
    if not shafts:
        return ""
    cut = ", ".join(f"{n} of {length:g} u" for length, n in sorted(shafts.items()))
    held = ", ".join(f"{n} of {length} u" for length, n in sorted(beams.items()))
    return f"Shafts: {cut}. Beams for four walls: {held}."
