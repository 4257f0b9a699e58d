"""The findings of a vehicle, composed: each stands beside its subject."""

from mild_badger.core.axle.findings import road_findings, running_findings, wheel_findings
from mild_badger.core.components.equipment import equipment_findings
from mild_badger.core.consistency import inconsistencies
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.functions.result import FunctionResult, function_findings
from mild_badger.core.gears.advice import advice
from mild_badger.core.gears.findings import gear_findings
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.ratios.final_drive import final_drive_ratio
from mild_badger.core.ratios.findings import final_drive_findings, row_findings
from mild_badger.core.results import AxleResult, GearResult
from mild_badger.core.shift.states import Proof
from mild_badger.core.situation import Situation
from mild_badger.core.trial.log import log_findings
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import assembly_findings
from mild_badger.core.workshop.findings import stock_findings
from mild_badger.core.workshop.parts import PartLine
from mild_badger.core.workshop.states import state_findings

__all__ = ["housing_ratios", "review", "review_road", "worst_first"]


def review(
    vehicle: Vehicle,
    gears: tuple[GearResult, ...],
    parts: tuple[PartLine, ...],
    *,
    proof: Proof,
    functions: FunctionResult | None = None,
) -> tuple[Finding, ...]:
    """Collect the findings that stand whatever road the vehicle is on."""
    findings = [
        *inconsistencies(vehicle),
        *(gear_findings(vehicle, gears, proof) if vehicle.box.geared else ()),
        *row_findings(vehicle),
        *final_drive_findings(vehicle),
        *function_findings(functions),
        *layout_findings(vehicle),
        *equipment_findings(vehicle),
        *stock_findings(parts),
        *running_findings(vehicle, housing_ratios(vehicle, gears)),
        *wheel_findings(vehicle),
        *(f for mechanism in MECHANISMS for f in mechanism.findings(vehicle)),
        *assembly_findings(vehicle),
        *state_findings(vehicle),
        *log_findings(vehicle),
        *(advice(vehicle, gears) if vehicle.box.geared else ()),
    ]
    return tuple(findings)


def review_road(vehicle: Vehicle, axle: AxleResult, situation: Situation) -> tuple[Finding, ...]:
    """Collect the findings of the road that is tried."""
    return tuple(road_findings(vehicle, situation.road, axle.paths, stalls=axle.stalls))


def worst_first(findings: tuple[Finding, ...]) -> tuple[Finding, ...]:
    """Put findings in order, errors first."""
    order = list(Severity)
    return tuple(sorted(findings, key=lambda finding: order.index(finding.severity)))


def housing_ratios(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> dict[str, float]:
    """Give the motor's turns for one of the first axle's housing, gear by gear."""
    final = float(final_drive_ratio(vehicle.final_drive))
    return {g.id: float(g.ratio) * final for g in gears if g.ratio is not None}
