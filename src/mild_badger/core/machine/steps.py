"""What to try at each mechanism: its steps of the trial list, with what should be seen."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.linkage.cables import run_figures
from mild_badger.core.linkage.clutch import clutch_figures
from mild_badger.core.linkage.lever import motion_of
from mild_badger.core.linkage.liquid import liquid_figures
from mild_badger.core.machine.balance_result import balance_figures
from mild_badger.core.machine.crane import crane_figures
from mild_badger.core.machine.crane_result import line_words
from mild_badger.core.machine.liquid_result import needed_mm
from mild_badger.core.machine.result import crank_turns
from mild_badger.core.vehicle.crane import BOX_OUTPUT
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["TrialStep", "mechanism_steps", "rename_with_ticks"]

KEY_LONG = 24


@dataclass(frozen=True)
class TrialStep:
    """A step by the key that it is ticked by, what it is called in a list, and what to see."""

    key: str
    name: str
    words: str


@lru_cache(maxsize=8)
def mechanism_steps(vehicle: Vehicle) -> tuple[TrialStep, ...]:
    """List the steps of every mechanism that is planned."""
    return tuple(
        TrialStep(f"{kind} {name}".strip()[:KEY_LONG].strip(), name or kind, words)
        for kind, name, words in _steps(vehicle)
    )


def rename_with_ticks(vehicle: Vehicle, edit: Edit) -> Edit:
    """Add to an edit that renames something that the steps which were ticked stay ticked."""
    before, after = mechanism_steps(vehicle), mechanism_steps(apply_edit(vehicle, edit))
    keys = {old.key: new.key for old, new in zip(before, after, strict=True)}
    ticks = [keys.get(tick, tick) for tick in vehicle.trial.ticks]
    if ticks == list(vehicle.trial.ticks):
        return edit
    return Edit(edit.label, (*edit.changes, Change(("trial", "ticks"), ticks)))


def _steps(vehicle: Vehicle) -> Iterator[tuple[str, str, str]]:
    """Give kind, name and words of every step."""
    if vehicle.clutch is not None:
        clutch = clutch_figures(vehicle.clutch)
        words = (
            f"Press its lever {clutch.pedal_needed:.1f} mm: the driven side must stand free while "
            f"the motor runs. Let go: it must carry {clutch.wear:.0f} N·mm without slipping."
        )
        yield "clutch", "", words
    for planned in vehicle.liquids:
        line, needed = liquid_figures(planned), needed_mm(vehicle, planned)
        words = (
            f"Press the pedal: at {line.pedal_at(needed):.1f} mm the slaves have moved "
            f"{needed:.2f} mm and bite. Hold it a minute: if it sinks there is air or a leak."
        )
        yield "liquid", planned.name, words
    yield from _turning(vehicle)
    yield from _cables(vehicle)
    yield from _crane(vehicle)
    balance = balance_figures(vehicle)
    if balance is not None and vehicle.balance is not None:
        worst = balance.loaded
        feet = ", ".join(f"{n:.1f}" for n in worst.feet_n)
        words = (
            f"Put the boom at {worst.slew_deg:.0f}° and {worst.reach_mm:.0f} mm, hands clear, and "
            f"hang {vehicle.balance.load_kg:g} kg on slowly: no foot may lift; they should bear "
            f"{feet} N, front left first."
        )
        yield "balance", "", words


def _turning(vehicle: Vehicle) -> Iterator[tuple[str, str, str]]:
    engine, drive = vehicle.display, vehicle.stepless
    if engine is not None:
        turns = crank_turns(vehicle, None) if engine.drive == "motor" else None
        often = f" For one turn of the motor {abs(float(turns)):.4g}." if turns else ""
        words = (
            "Turn the crank twice round by hand: nothing may catch, and cylinders come to their "
            f"tops in the order {'-'.join(map(str, engine.order))}.{often}"
        )
        yield "display engine", "", words
    if drive is not None:
        low, high = (motion_of(drive, mm).mean for mm in (drive.stop_low_mm, drive.stop_high_mm))
        words = (
            f"Turn the throws ten times: with the fulcrum at {drive.stop_low_mm:g} mm the wheel "
            f"turns {10 * low:.2f} times, at {drive.stop_high_mm:g} mm {10 * high:.2f} times, and "
            "never back."
        )
        yield "lever drive", "", words


def _cables(vehicle: Vehicle) -> Iterator[tuple[str, str, str]]:
    cables = vehicle.cables
    if cables is None:
        return
    for run in cables.runs:
        found = run_figures(cables, run)
        words = (
            f"Throw the hand's lever over, {cables.stroke_mm:g} mm: the end moves "
            f"{found.travel:.1f} mm and begins after {found.starts * cables.stroke_mm:.1f} mm."
        )
        yield "cable", run.name, words


def _crane(vehicle: Vehicle) -> Iterator[tuple[str, str, str]]:
    crane = vehicle.crane
    if crane is None:
        return
    first = vehicle.real.gears[0].name
    rpm = vehicle.motor.working_rpm
    gears = {name: crane_figures(vehicle, name, rpm) for name in (None, first)}
    for number, output in enumerate(crane.outputs):
        boxed = crane.way_to(output.name)[0].source == BOX_OUTPUT
        found = gears[first if boxed else None][number]
        said = line_words(found).partition(": ")[2]
        held = f" At rest {found.holds} must hold its load." if found.holds else ""
        where = f"In gear {first}: " if boxed else ""
        yield "output", output.name, f"{where}{said}.{held}"
