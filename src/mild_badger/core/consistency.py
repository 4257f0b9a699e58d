"""Values that depend on one another and do not agree: said with a mend, never a reason to refuse.

They may be typed in any order. What the model refuses and what is found here stands in
docs/validation.md.
"""

from collections.abc import Iterator

from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.figures import bare, in_mm, in_module
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import LeverPlace
from mild_badger.core.vehicle.edit.change import Change, Edit, Path
from mild_badger.core.vehicle.model import Differential, Motor, Vehicle
from mild_badger.core.vehicle.references import lost_references
from mild_badger.core.words import listed

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
            say("consistency.engine-speeds-are-out-of-order"),
            say(
                "consistency.idle-peak-and-limit-are-and-rpm-they-must",
                speeds=speeds[0],
                speeds_2=speeds[1],
                speeds_3=speeds[2],
            ),
            say("consistency.put-the-three-engine-speeds-in-order"),
            *(((("real", name), value)) for name, value in zip(names, sorted(speeds), strict=True)),
        )
    elif not real.idle_rpm <= real.shifts_at_rpm <= real.limit_rpm:
        yield _found(
            "shift-speed",
            "targets",
            say("consistency.shift-speed-is-outside-idle-to-limit"),
            say(
                "consistency.the-shift-speed-rpm-must-lie-between-idle",
                shifts_at_rpm=real.shifts_at_rpm,
                idle_rpm=real.idle_rpm,
                limit_rpm=real.limit_rpm,
            ),
            say("consistency.shift-at-the-limit"),
            (("real", "shift_rpm"), None),
        )


def _motor(vehicle: Vehicle) -> Iterator[Finding]:
    motor: Motor = vehicle.motor
    top = motor.shaft_no_load_rpm
    if motor.working_rpm > top * (1 + 1e-9):
        yield _found(
            "working-speed",
            "motor",
            say("consistency.working-speed-is-above-the-no-load-speed"),
            say(
                "consistency.the-motors-shaft-works-at-rpm-but-turns-no",
                working_rpm=motor.working_rpm,
                top=top,
            ),
            say("consistency.work-at-eight-tenths-of-the-no-load-speed"),
            (("motor", "working_rpm"), round(0.8 * top, 6)),
        )
    if motor.stall_a <= motor.no_load_a:
        yield _found(
            "motor-currents",
            "motor",
            say("consistency.stall-current-is-not-above-the-no-load"),
            say(
                "consistency.the-stall-current-is-a-the-no-load-current-a",
                stall_a=motor.stall_a,
                no_load_a=motor.no_load_a,
            ),
            say("consistency.set-the-no-load-current-to-a-tenth-of-the"),
            (("motor", "no_load_a"), motor.stall_a / 10),
        )
    elif motor.limit_a is not None and motor.limit_a <= motor.no_load_a:
        yield _found(
            "current-limit",
            "motor",
            say("consistency.current-limit-leaves-no-torque"),
            say(
                "consistency.the-limit-of-a-is-no-more-than-the-no-load",
                limit_a=motor.limit_a,
                no_load_a=motor.no_load_a,
            ),
            say("consistency.remove-the-current-limit"),
            (("motor", "limit_a"), None),
        )


def _differentials(vehicle: Vehicle) -> Iterator[Finding]:
    kinds: list[tuple[Path, str, Differential]] = [
        (("differential",), say("consistency.the-differential"), vehicle.differential)
    ]
    kinds += [
        (
            ("additional_axles", n, "differential"),
            say("consistency.the-differential-of", name=axle.name),
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
                say("consistency.has-no-room-for-planets", name=name),
                say(
                    "consistency.a-ring-of-teeth-leaves-no-planets-round-a",
                    ring=ring,
                    sun=sun,
                    sun_2=sun + 9,
                ),
                say("consistency.enlarge-the-ring"),
                ((*path, "ring_teeth"), min(2 * sun + 8, 400)),
            )


def _search(vehicle: Vehicle) -> Iterator[Finding]:
    low, high = vehicle.search.factor_low, vehicle.search.factor_high
    if low > high:
        yield _found(
            "factor-range",
            "targets",
            say("consistency.range-of-the-common-factor-is-upside-down"),
            say("consistency.it-goes-from-to-the-search-takes-it-the", low=low, high=high),
            say("consistency.turn-the-range-round"),
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
            say("consistency.range-of-gears-that-can-be-made-is-upside"),
            say("consistency.it-goes-from-to-teeth-it-is-taken-as-to", high=high, low=low),
            say("consistency.turn-the-range-round"),
            (("kit", "made", "least_teeth"), low),
            (("kit", "made", "most_teeth"), high),
            severity=Severity.WARNING,
        )
    odd = [n for n, gear in enumerate(kit.gears) if not kit.tip_fits(gear)]
    if odd:
        gear = kit.gears[odd[0]]
        pitch, most = gear.teeth * kit.module_mm, (gear.teeth + 4) * kit.module_mm
        more = (
            say("consistency.more-sizes-are-alike", count_of_odd=len(odd) - 1)
            if len(odd) > 1
            else ""
        )
        yield _found(
            "tip-diameter",
            "kit",
            say("consistency.tip-diameter-of-the-tooth-gear-does-not-fit", teeth=gear.teeth),
            say(
                "consistency.is-outside-to-which-is-what-allows",
                tip_diameter_mm=in_mm(gear.tip_diameter_mm),
                pitch=bare(in_mm(pitch)),
                most=in_mm(most),
                module_mm=in_module(kit.module_mm),
                more=more,
            ),
            say("consistency.use-full-depth-teeth"),
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
                say("consistency.bearing-has-no-wall", name=bearing.name),
                say(
                    "consistency.its-bore-is-its-outer-diameter",
                    bore_mm=in_mm(bearing.bore_mm),
                    outer_mm=in_mm(bearing.outer_mm),
                ),
                say("consistency.make-the-bearing-twice-as-wide-as-its-bore"),
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
        gears = say("consistency.gears-lie-outside", listed=", ".join(astray)) if astray else ""
        yield _found(
            "fulcrum-stops",
            "gearbox" if astray else "lever drive",
            say("consistency.fulcrum-and-stops-do-not-agree"),
            f"{_stops_text(drive)}{gears}",
            say("consistency.put-the-fulcrum-between-its-stops"),
            *changes,
        )


def _between(value: float, low: float, high: float) -> float:
    return min(max(value, low), high)


def _stops_text(drive: LeverDrive) -> str:
    return say(
        "consistency.the-stops-stand-at-and-the-fulcrum-at",
        stop_low_mm=bare(in_mm(drive.stop_low_mm)),
        stop_high_mm=in_mm(drive.stop_high_mm),
        fulcrum_mm=in_mm(drive.fulcrum_mm),
    )


def _others(vehicle: Vehicle) -> Iterator[Finding]:
    frame, clutch, balance = vehicle.frame, vehicle.clutch, vehicle.balance
    if 2 * frame.recess_mm >= frame.thin_mm:
        yield _found(
            "thin-sleeve",
            "layout",
            say("consistency.gears-meet-inside-the-thin-sleeve"),
            say(
                "consistency.gears-reach-over-either-face-of-a-thin",
                recess_mm=in_mm(frame.recess_mm),
                thin_mm=in_mm(frame.thin_mm),
            ),
            say("consistency.let-gears-reach-a-quarter-of-the-sleeve"),
            (("frame", "recess_mm"), frame.thin_mm / 4),
        )
    if clutch is not None and clutch.inner_mm > clutch.outer_mm:
        yield _found(
            "clutch-ring",
            "clutch",
            say("consistency.inside-and-outside-of-the-clutch-lining-are"),
            say(
                "consistency.the-inside-measures-the-outside",
                inner_mm=in_mm(clutch.inner_mm),
                outer_mm=in_mm(clutch.outer_mm),
            ),
            say("consistency.exchange-inside-and-outside"),
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
                say("consistency.reach-lies-outside-its-range"),
                say(
                    "consistency.the-reach-is-the-range-to",
                    reach_mm=in_mm(balance.reach_mm),
                    reach_low_mm=balance.reach_low_mm,
                    reach_high_mm=in_mm(balance.reach_high_mm),
                ),
                say("consistency.put-the-reach-inside-its-range"),
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
            say("consistency.one-of-the-two-drop-gears-is-missing"),
            say("consistency.drop-gears-come-in-pairs-so-none-is-counted"),
            say("consistency.use-two-equal-drop-gears"),
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
            say("consistency.readings-belong-to-a-gear-that-is-gone"),
            say(
                "consistency.of-were-taken-in-gears-that-this-vehicle-no",
                count=count,
                count_of_readings=len(vehicle.trial.readings),
            ),
            say("consistency.forget-these-readings"),
            (("trial", "readings"), readings),
            severity=Severity.NOTE,
        )
    order = vehicle.shifting.drum.order
    if gears.intersection(order):
        yield _found(
            "positions-lost",
            "box",
            say("consistency.the-drum-has-positions-for-gears-that-are"),
            say("consistency.its-order-names-gears-that-this-vehicle-no"),
            say("consistency.leave-them-out"),
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
            say("consistency.log-entries-belong-to-a-version-that-is-gone"),
            say(
                "consistency.no-version-is-called-any-more",
                listed=listed(sorted(versions), "or"),
            ),
            say("consistency.untie-these-entries"),
            (("log", "entries"), entries),
            severity=Severity.NOTE,
        )
