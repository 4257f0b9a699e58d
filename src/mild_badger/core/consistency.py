"""Values that depend on one another and do not agree: said with a mend, never a reason to refuse.

They may be typed in any order. What the model refuses and what is found here stands in
docs/validation.md.
"""

from collections.abc import Iterator

from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.figures import bare, in_mm, in_module
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.vehicle.box import LeverPlace
from mild_badger.core.vehicle.edit.change import Change, Edit, Path
from mild_badger.core.vehicle.model import Differential, Motor, Vehicle
from mild_badger.core.vehicle.references import lost_references

__all__ = ["inconsistencies"]


def inconsistencies(vehicle: Vehicle) -> Iterator[Finding]:
    """Find the values that do not agree, each with the edit that makes them agree."""
    yield from _engine(vehicle)
    yield from _motor(vehicle)
    yield from _differentials(vehicle)
    yield from _search(vehicle)
    yield from _kit(vehicle)
    yield from architecture_of(vehicle.box).findings(vehicle.box)
    yield from _lever(vehicle)
    yield from _others(vehicle)
    yield from _lost(vehicle)


def _found(
    code: str,
    where: str,
    title: str,
    text: str,
    mend: str,
    *changes: tuple[Path, object],
    severity: Severity = Severity.ERROR,
) -> Finding:
    edit = Edit(mend, tuple(Change(path, value) for path, value in changes)) if changes else None
    return Finding(severity, code, (where,), title, text, mend=edit)


def _engine(vehicle: Vehicle) -> Iterator[Finding]:
    real = vehicle.real
    speeds = (real.idle_rpm, real.peak_rpm, real.limit_rpm)
    names = ("idle_rpm", "peak_rpm", "limit_rpm")
    if sorted(speeds) != list(speeds):
        yield _found(
            "engine-speeds",
            "targets",
            "Engine speeds are out of order",
            f"Idle, peak and limit are {speeds[0]:g}, {speeds[1]:g} and {speeds[2]:g} rpm; they "
            "must rise in this order. Road speeds follow the limit as typed.",
            "Put the three engine speeds in order",
            *(((("real", name), value)) for name, value in zip(names, sorted(speeds), strict=True)),
        )
    elif not real.idle_rpm <= real.shifts_at_rpm <= real.limit_rpm:
        yield _found(
            "shift-speed",
            "targets",
            "Shift speed is outside idle to limit",
            f"The shift speed {real.shifts_at_rpm:g} rpm must lie between idle and limit, "
            f"{real.idle_rpm:g} and {real.limit_rpm:g} rpm.",
            "Shift at the limit",
            (("real", "shift_rpm"), None),
        )


def _motor(vehicle: Vehicle) -> Iterator[Finding]:
    motor: Motor = vehicle.motor
    top = motor.shaft_no_load_rpm
    if motor.working_rpm > top * (1 + 1e-9):
        yield _found(
            "working-speed",
            "motor",
            "Working speed is above the no-load speed",
            f"The motor's shaft works at {motor.working_rpm:g} rpm but turns no faster than "
            f"{top:.4g} rpm without load.",
            "Work at eight tenths of the no-load speed",
            (("motor", "working_rpm"), round(0.8 * top, 6)),
        )
    if motor.stall_a <= motor.no_load_a:
        yield _found(
            "motor-currents",
            "motor",
            "Stall current is not above the no-load current",
            f"The stall current is {motor.stall_a:g} A, the no-load current {motor.no_load_a:g} A. "
            "A motor that stalls takes more, so no current limit is counted.",
            "Set the no-load current to a tenth of the stall current",
            (("motor", "no_load_a"), motor.stall_a / 10),
        )
    elif motor.limit_a is not None and motor.limit_a <= motor.no_load_a:
        yield _found(
            "current-limit",
            "motor",
            "Current limit leaves no torque",
            f"The limit of {motor.limit_a:g} A is no more than the no-load current "
            f"{motor.no_load_a:g} A, so nothing is left to pull with.",
            "Remove the current limit",
            (("motor", "limit_a"), None),
        )


def _differentials(vehicle: Vehicle) -> Iterator[Finding]:
    kinds: list[tuple[Path, str, Differential]] = [
        (("differential",), "The differential", vehicle.differential)
    ]
    kinds += [
        (
            ("additional_axles", n, "differential"),
            f"The differential of {axle.name}",
            axle.differential,
        )
        for n, axle in enumerate(vehicle.additional_axles)
    ]
    for path, name, differential in kinds:
        sun, ring = differential.sun_teeth, differential.ring_teeth
        if differential.kind == "planetary" and ring <= sun + 8:
            yield _found(
                "planetary-room",
                "differential",
                f"{name} has no room for planets",
                f"A ring of {ring} teeth leaves no planets round a sun of {sun}; it needs at least "
                f"{sun + 9}.",
                "Enlarge the ring",
                ((*path, "ring_teeth"), min(2 * sun + 8, 400)),
            )


def _search(vehicle: Vehicle) -> Iterator[Finding]:
    low, high = vehicle.search.factor_low, vehicle.search.factor_high
    if low > high:
        yield _found(
            "factor-range",
            "targets",
            "Range of the common factor is upside down",
            f"It goes from {low:g} to {high:g}; the search takes it the other way round.",
            "Turn the range round",
            (("search", "factor_low"), high),
            (("search", "factor_high"), low),
            severity=Severity.WARNING,
        )


def _kit(vehicle: Vehicle) -> Iterator[Finding]:
    kit = vehicle.kit
    if kit.made is not None and kit.made.least_teeth > kit.made.most_teeth:
        low, high = kit.made.most_teeth, kit.made.least_teeth
        yield _found(
            "made-range",
            "kit",
            "Range of gears that can be made is upside down",
            f"It goes from {high} to {low} teeth; it is taken as {low} to {high}.",
            "Turn the range round",
            (("kit", "made", "least_teeth"), low),
            (("kit", "made", "most_teeth"), high),
            severity=Severity.WARNING,
        )
    odd = [n for n, gear in enumerate(kit.gears) if not kit.tip_fits(gear)]
    if odd:
        gear = kit.gears[odd[0]]
        pitch, most = gear.teeth * kit.module_mm, (gear.teeth + 4) * kit.module_mm
        more = f" {len(odd) - 1} more sizes are alike." if len(odd) > 1 else ""
        yield _found(
            "tip-diameter",
            "kit",
            f"Tip diameter of the {gear.teeth}-tooth gear does not fit",
            f"{in_mm(gear.tip_diameter_mm)} is outside {bare(in_mm(pitch))} to {in_mm(most)}, "
            "which is what "
            f"{in_module(kit.module_mm)} allows.{more}",
            "Use full-depth teeth",
            *(
                (("kit", "gears", n, "tip_diameter_mm"), kit.module_mm * (kit.gears[n].teeth + 2))
                for n in odd
            ),
        )
    for number, bearing in enumerate(kit.bearings):
        if bearing.bore_mm >= bearing.outer_mm:
            yield _found(
                "bearing-wall",
                "kit",
                f"Bearing {bearing.name} has no wall",
                f"Its bore is {in_mm(bearing.bore_mm)}, its outer diameter "
                f"{in_mm(bearing.outer_mm)}.",
                "Make the bearing twice as wide as its bore",
                (("kit", "bearings", number, "outer_mm"), min(2 * bearing.bore_mm, 100_000.0)),
            )


def _lever(vehicle: Vehicle) -> Iterator[Finding]:
    drive = vehicle.stepless
    if drive is None:
        return
    low, high = sorted((drive.stop_low_mm, drive.stop_high_mm))
    path = vehicle.stepless_path
    changes: list[tuple[Path, object]] = []
    if (drive.stop_low_mm, drive.stop_high_mm) != (low, high):
        changes += [((*path, "stop_low_mm"), low), ((*path, "stop_high_mm"), high)]
    if not low <= drive.fulcrum_mm <= high:
        changes.append(((*path, "fulcrum_mm"), _between(drive.fulcrum_mm, low, high)))
    astray = []
    for number, slot in enumerate(vehicle.box.slots):
        if isinstance(slot, LeverPlace) and not low <= slot.fulcrum_mm <= high:
            astray.append(vehicle.gear_name(slot.gear))
            place = _between(slot.fulcrum_mm, low, high)
            changes.append((("box", "slots", number, "fulcrum_mm"), place))
    if changes:
        gears = f" Gears {', '.join(astray)} lie outside." if astray else ""
        yield _found(
            "fulcrum-stops",
            "gearbox" if astray else "lever drive",
            "Fulcrum and stops do not agree",
            f"{_stops_text(drive)}{gears}",
            "Put the fulcrum between its stops",
            *changes,
        )


def _between(value: float, low: float, high: float) -> float:
    return min(max(value, low), high)


def _stops_text(drive: LeverDrive) -> str:
    return (
        f"The stops stand at {bare(in_mm(drive.stop_low_mm))} and {in_mm(drive.stop_high_mm)}, "
        "the fulcrum at "
        f"{in_mm(drive.fulcrum_mm)}."
    )


def _others(vehicle: Vehicle) -> Iterator[Finding]:
    frame, clutch, balance = vehicle.frame, vehicle.clutch, vehicle.balance
    if 2 * frame.recess_mm >= frame.thin_mm:
        yield _found(
            "thin-sleeve",
            "layout",
            "Gears meet inside the thin sleeve",
            f"Gears reach {in_mm(frame.recess_mm)} over either face of a thin sleeve of "
            f"{in_mm(frame.thin_mm)}; nothing is left between them.",
            "Let gears reach a quarter of the sleeve",
            (("frame", "recess_mm"), frame.thin_mm / 4),
        )
    if clutch is not None and clutch.inner_mm > clutch.outer_mm:
        yield _found(
            "clutch-ring",
            "clutch",
            "Inside and outside of the clutch lining are exchanged",
            f"The inside measures {in_mm(clutch.inner_mm)}, the outside {in_mm(clutch.outer_mm)}.",
            "Exchange inside and outside",
            (("clutch", "inner_mm"), clutch.outer_mm),
            (("clutch", "outer_mm"), clutch.inner_mm),
        )
    if balance is not None:
        low, high = sorted((balance.reach_low_mm, balance.reach_high_mm))
        ordered = balance.reach_low_mm <= balance.reach_mm <= balance.reach_high_mm
        if not ordered:
            yield _found(
                "reach-range",
                "balance",
                "Reach lies outside its range",
                f"The reach is {in_mm(balance.reach_mm)}, the range {balance.reach_low_mm:g} to "
                f"{in_mm(balance.reach_high_mm)}.",
                "Put the reach inside its range",
                (("balance", "reach_low_mm"), low),
                (("balance", "reach_high_mm"), high),
                (("balance", "reach_mm"), _between(balance.reach_mm, low, high)),
            )
    line = vehicle.running.line if vehicle.running is not None else None
    if line is not None and (line.drop_driver is None) != (line.drop_driven is None):
        teeth = line.drop_driver or line.drop_driven
        yield _found(
            "drop-gears",
            "axle",
            "One of the two drop gears is missing",
            "Drop gears come in pairs, so none is counted until both tooth counts are given.",
            "Use two equal drop gears",
            (("running", "line", "drop_driver"), teeth),
            (("running", "line", "drop_driven"), teeth),
        )


def _lost(vehicle: Vehicle) -> Iterator[Finding]:
    """Report what belongs to a gear or a version that is gone; it is kept until it is taken out."""
    lost = lost_references(vehicle)
    gears = {r.value for r in lost if r.what == "gear"}
    readings = [r for r in vehicle.trial.readings if r.position not in gears]
    count = len(vehicle.trial.readings) - len(readings)
    if count:
        yield _found(
            "readings-lost",
            "trial",
            "Readings belong to a gear that is gone",
            f"{count} of {len(vehicle.trial.readings)} were taken in gears that this vehicle no "
            "longer has. They are kept and count for nothing.",
            "Forget these readings",
            (("trial", "readings"), readings),
            severity=Severity.NOTE,
        )
    order = vehicle.shifting.drum.order
    if gears.intersection(order):
        yield _found(
            "positions-lost",
            "box",
            "The drum has positions for gears that are gone",
            "Its order names gears that this vehicle no longer has.",
            "Leave them out",
            (("shifting", "drum", "order"), [gear for gear in order if gear not in gears]),
        )
    versions = {r.value for r in lost if r.what == "version"}
    if versions:
        entries = [
            e.model_copy(update={"version": ""}) if e.version in versions else e
            for e in vehicle.log.entries
        ]
        yield _found(
            "versions-lost",
            "log",
            "Log entries belong to a version that is gone",
            f"No version is called {' or '.join(sorted(versions))} any more.",
            "Untie these entries",
            (("log", "entries"), entries),
            severity=Severity.NOTE,
        )
