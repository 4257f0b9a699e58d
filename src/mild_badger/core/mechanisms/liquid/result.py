"""A liquid line against the brakes' grip or the clutch it works: words, findings, edits."""

from collections.abc import Iterator

from mild_badger.core.axle.running import running_of
from mild_badger.core.figures import bare, in_mm, in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ids import LineId
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.liquid.model import MAX_LINES, LiquidLine
from mild_badger.core.mechanisms.liquid.pressure import liquid_figures
from mild_badger.core.units import GRAVITY_M_S2
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "add_line",
    "describe_liquid",
    "grip_torque_n_mm",
    "liquid_faults",
    "needed_mm",
    "remove_line",
]

FAST_PRESSURE = 0.4
"""N/mm² beyond which pushed-on tubes may come off syringes (an estimate, no source)."""


def add_line(vehicle: Vehicle) -> Edit | None:
    """Plan a line more: brakes first, then the clutch; None where there are as many as may be."""
    lines = vehicle.hydraulic_lines
    if len(lines) >= MAX_LINES:
        return None
    names = {line.name for line in lines}
    for_clutch = vehicle.clutch is not None and all(line.works != "clutch" for line in lines)
    made = LiquidLine()
    if lines and for_clutch:
        made = LiquidLine(name="clutch", works="clutch", slaves=1)
    name = next(
        n for n in (made.name, *(f"line {k}" for k in range(1, MAX_LINES + 2))) if n not in names
    )
    identity = vehicle.new_id(name, (line.id for line in lines))
    made = made.model_copy(update={"id": LineId(identity), "name": name})
    return Edit.one("Plan a liquid line", ("hydraulic_lines",), [*lines, made])


def remove_line(vehicle: Vehicle, number: int) -> Edit:
    """Take a line away."""
    kept = [line for n, line in enumerate(vehicle.hydraulic_lines) if n != number]
    return Edit.one("Take the liquid line away", ("hydraulic_lines",), kept)


def grip_torque_n_mm(vehicle: Vehicle, line: LiquidLine) -> float:
    """Give the brake torque at which the braked wheels lock: grip · weight on them · radius."""
    weight = running_of(vehicle).chassis.mass_kg * GRAVITY_M_S2 * line.weight_share
    return vehicle.ground.grip * weight * vehicle.wheels.diameter_mm / 2


def needed_mm(vehicle: Vehicle, line: LiquidLine) -> float:
    """Give the travel each slave needs: its gap, both of a floating caliper, or the clutch's."""
    if line.works == "clutch":
        return clutch_figures(vehicle.clutch).pedal_needed if vehicle.clutch is not None else 0.0
    return line.gap_mm * (2 if line.floating else 1)


def describe_liquid(vehicle: Vehicle, line: LiquidLine) -> str:
    """Say what a line does."""
    figures, needed = liquid_figures(line), needed_mm(vehicle, line)
    sentence = (
        f"{in_n(line.hand_n)} at the pedal are {figures.pressure:.3f} N/mm² ("
        f"{10 * figures.pressure:.2f} bar) in the line and {in_n(figures.slave_n, 1)} at each of "
        f"{line.slaves}, which move up to {in_mm(figures.travel, 2)}; {in_mm(needed, 2)} are "
        "needed, "
        f"there the pedal has gone {bare(in_mm(figures.pedal_at(needed), 1))} of "
        f"{in_mm(line.pedal_mm)}, "
        f"{in_mm(figures.pedal_lost, 1)} of it into air and tubes. "
    )
    if line.works == "clutch":
        if vehicle.clutch is None:
            return f"{sentence}There is no clutch to work."
        return (
            f"{sentence}The clutch's lever wants {in_n(clutch_figures(vehicle.clutch).pedal_n, 1)}."
        )
    grip = grip_torque_n_mm(vehicle, line)
    return (
        f"{sentence}The brakes hold {in_n_mm(figures.torque, 0)} together, the tyres grip to "
        f"{in_n_mm(grip, 0)}: {in_n(line.hand_n * grip / figures.torque, 1)} at the pedal lock the "
        "wheels."
    )


def liquid_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what runs out of travel, what is too weak, and where pressure asks for care."""
    for line in vehicle.hydraulic_lines:
        yield from _line_faults(vehicle, line)


def _line_faults(vehicle: Vehicle, line: LiquidLine) -> Iterator[Finding]:
    figures, needed, where = liquid_figures(line), needed_mm(vehicle, line), ("liquid", line.id)
    if figures.travel < needed:
        yield Finding(
            Severity.ERROR,
            "line-runs-out",
            where,
            f"The pedal of line {line.name} reaches its stop too early",
            f"The slaves move {in_mm(figures.travel, 2)}; {in_mm(needed, 2)} is needed, which "
            "takes "
            f"{in_mm(figures.pedal_at(needed), 1)} of pedal. Use a wider master, narrower or fewer "
            "slaves, or bleed the line.",
            figures.travel,
            needed,
            "mm",
        )
    if line.works == "clutch":
        if vehicle.clutch is None:
            yield Finding(
                Severity.WARNING,
                "line-no-clutch",
                where,
                "The liquid line has no clutch to operate",
                "The line is set to operate the clutch, but the vehicle has none. Add a clutch on "
                "the page Clutch.",
            )
        else:
            wanted, given = clutch_figures(vehicle.clutch).pedal_n, line.slaves * figures.slave_n
            if given < wanted:
                yield Finding(
                    Severity.ERROR,
                    "line-weak",
                    where,
                    "The liquid line cannot release the clutch",
                    f"The slaves push {in_n(given, 1)}; the clutch lever needs {in_n(wanted, 1)}.",
                    given,
                    wanted,
                    "N",
                )
    elif figures.torque > (grip := grip_torque_n_mm(vehicle, line)):
        yield Finding(
            Severity.NOTE,
            "wheels-lock",
            where,
            "The brakes lock the wheels",
            f"Brake torque {in_n_mm(figures.torque, 0)}; the tyres grip up to {in_n_mm(grip, 0)}.",
            figures.torque,
            grip,
            "N·mm",
        )
    if figures.pressure > FAST_PRESSURE:
        yield Finding(
            Severity.WARNING,
            "line-pressure",
            where,
            "The pressure is high for syringes",
            f"{figures.pressure:.2f} N/mm² may push tubes off and squirt: clamp them, keep eyes "
            f"away, and follow the makers' limits. Below {FAST_PRESSURE:g} is easier.",
            figures.pressure,
            FAST_PRESSURE,
            "N/mm²",
        )
