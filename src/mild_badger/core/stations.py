"""The driveline strip's stations, from motor to wheels, in words and figures."""

from dataclasses import dataclass
from fractions import Fraction

from mild_badger.core.figures import in_km_h, in_m_s, in_mm, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity, worst_severity
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.message import say
from mild_badger.core.performance.motor import torque_at
from mild_badger.core.ratios.final_drive import overall_final_ratio
from mild_badger.core.results import AxleResult, GearResult, GearState, Sign, Station
from mild_badger.core.situation import Situation
from mild_badger.core.units import km_per_hour
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = ["sign_of", "stations"]

WAYS: dict[int, str] = {
    1: say("stations.forwards-plus"),
    -1: say("stations.backwards-minus"),
    0: say("stations.stands"),
}


@dataclass(frozen=True)
class _Drive:
    """What the stations share. ``gear`` is set only where it really drives the axle."""

    vehicle: Vehicle
    chosen: str | None
    gear: GearResult | None
    axle: AxleResult
    rpm: float
    findings: tuple[Finding, ...]

    @property
    def stood(self) -> str:
        return say("stations.stands") if self.axle.stalls else say("stations.not-driven")

    @property
    def torque_n_mm(self) -> float:
        return torque_at(self.vehicle.motor, self.rpm)

    @property
    def overall(self) -> float | None:
        """Motor turns for one of the housing, positive."""
        if self.gear is None or self.gear.ratio is None:
            return None
        return abs(float(self.gear.ratio * overall_final_ratio(self.vehicle)))

    @property
    def axle_torque_n_mm(self) -> float | None:
        if self.gear is None or self.overall is None:
            return None
        return self.torque_n_mm * self.overall * self.gear.efficiency

    def mark(self, *names: str) -> Severity | None:
        return worst_severity(tuple(f for f in self.findings if set(names) & set(f.where)))


def stations(
    vehicle: Vehicle,
    situation: Situation,
    gears: tuple[GearResult, ...],
    axle: AxleResult,
    *,
    rpm: float,
    findings: tuple[Finding, ...],
) -> tuple[Station, ...]:
    """Describe every station; ``rpm`` is the motor's.

    Torques are the motor's on its linear curve times the ratio, less the share lost in each mesh.
    """
    gear = next((g for g in gears if g.id == situation.gear), None)
    released = situation.clutch_released(vehicle)
    drives = gear is not None and gear.state is GearState.DRIVES and not axle.stalls
    drives = drives and not released
    drive = _Drive(vehicle, situation.gear, gear if drives else None, axle, rpm, findings)
    names = tuple(g.id for g in gears)
    return (
        _motor(drive),
        *_clutch(drive, released=released),
        _box(drive, names),
        _final_drive(drive),
        _differential(drive),
        _wheels(drive),
    )


def sign_of(value: Fraction | float | None) -> Sign:
    """Return +1, −1, or 0 for nothing."""
    if not value:
        return 0
    return 1 if value > 0 else -1


def _motor(drive: _Drive) -> Station:
    turns = drive.vehicle.motor.turns
    return Station(
        key="motor",
        name=say("stations.motor"),
        rpm=drive.rpm * turns,
        torque_n_mm=drive.torque_n_mm,
        ratio_so_far=1.0,
        direction=turns,
        figure=_rpm(drive.rpm),
        details=(
            in_n_mm(drive.torque_n_mm, 0),
            say("stations.turns", value="+" if turns > 0 else "−"),
        ),
        mark=drive.mark("motor"),
    )


def _clutch(drive: _Drive, *, released: bool) -> tuple[Station, ...]:
    """Describe the clutch; nothing where the vehicle has none."""
    clutch = drive.vehicle.clutch
    if clutch is None:
        return ()
    figures, stall = clutch_figures(clutch), drive.vehicle.motor.shaft_stall_n_mm
    turns = drive.vehicle.motor.turns
    station = Station(
        key="clutch",
        name=say("stations.clutch"),
        rpm=None if released else drive.rpm * turns,
        torque_n_mm=None if released else drive.torque_n_mm,
        ratio_so_far=None if released else 1.0,
        direction=0 if released else turns,
        figure="released" if released else "closed",
        details=(
            say("stations.holds", wear=in_n_mm(figures.wear, 0)),
            say("stations.the-stall-torque", margin=figures.margin(stall)),
        ),
        mark=drive.mark("clutch"),
    )
    return (station,)


def _box(drive: _Drive, gears: tuple[str, ...]) -> Station:
    gear = drive.gear
    torque, ratio = None, None
    words: tuple[str, str] = (say("stations.no-torque"), "")
    if gear is not None and gear.ratio is not None:
        ratio = abs(float(gear.ratio))
        torque = drive.torque_n_mm * ratio * gear.box_efficiency
        sign = "+" if gear.box_rpm and gear.box_rpm > 0 else "−"
        words = (in_n_mm(torque, 0), say("stations.1-turns", ratio=ratio, sign=sign))
    output = gear.box_rpm if gear is not None else None
    return Station(
        key="box",
        name=say("stations.box", gear_name=drive.vehicle.gear_name(drive.chosen or "N")),
        rpm=output,
        torque_n_mm=torque,
        ratio_so_far=ratio,
        direction=sign_of(output),
        figure=drive.stood if output is None else _rpm(output),
        details=words,
        mark=drive.mark("box", *gears),
        engaged=drive.chosen is not None,
    )


def _final_drive(drive: _Drive) -> Station:
    final = drive.vehicle.final_drive
    housing = drive.axle.housing_rpm if drive.gear is not None else None
    torque, overall = drive.axle_torque_n_mm, drive.overall
    first = say("stations.no-torque")
    if torque is not None and overall is not None:
        first = say("stations.1-in-all", torque=in_n_mm(torque, 0), overall=overall)
    return Station(
        key="final drive",
        name=say("stations.final-drive"),
        rpm=housing,
        torque_n_mm=torque,
        ratio_so_far=overall,
        direction=sign_of(housing),
        figure=drive.stood if housing is None else _rpm(housing),
        details=(
            first,
            say(
                "stations.1-crown-on-the",
                overall_final_ratio=float(overall_final_ratio(drive.vehicle)),
                crown_side=final.crown_side,
            ),
        ),
        mark=drive.mark("final drive"),
    )


def _differential(drive: _Drive) -> Station:
    left, right = drive.axle.left_rpm, drive.axle.right_rpm
    return Station(
        key="differential",
        name=say("stations.differential"),
        rpm=left,
        rpm_other=right,
        torque_n_mm=drive.axle_torque_n_mm,
        ratio_so_far=drive.overall,
        direction=drive.gear.direction if drive.gear is not None else 0,
        figure=drive.stood if drive.gear is None else f"L {_bare(left)} · R {_bare(right)}",
        details=(drive.axle.kind_summary, drive.axle.road_summary),
        mark=drive.mark("differential"),
    )


def _wheels(drive: _Drive) -> Station:
    vehicle, gear = drive.vehicle, drive.gear
    figure, words = drive.stood, (f"ø {in_mm(vehicle.wheels.diameter_mm)}", "")
    if gear is not None and gear.speed_mm_s is not None and gear.full_size_mm_s is not None:
        figure = in_m_s(abs(gear.speed_mm_s) / 1000, 2)
        full = abs(km_per_hour(gear.full_size_mm_s))
        words = (
            say("stations.at-1", full=in_km_h(full, 0), denominator=vehicle.scale.denominator),
            WAYS[gear.direction],
        )
    return Station(
        key="wheels",
        name=say("stations.wheels", diameter_mm=in_mm(vehicle.wheels.diameter_mm)),
        rpm=drive.axle.left_rpm,
        rpm_other=drive.axle.right_rpm,
        torque_n_mm=drive.axle_torque_n_mm,
        ratio_so_far=drive.overall,
        direction=gear.direction if gear is not None else 0,
        figure=figure,
        details=words,
        mark=drive.mark("wheels"),
    )


def _rpm(rpm: float) -> str:
    figure = signed(rpm, ",.0f").replace(",", " ")
    return say("stations.rpm", rpm=figure)


def _bare(rpm: float | None) -> str:
    return say("stations.free") if rpm is None else signed(rpm, ".0f")
