"""The parts of the mechanisms besides box and axle, counted into a tally."""

from mild_badger.core.driveline.crane import inner_shafts
from mild_badger.core.vehicle.crane import (
    OWN_INPUT,
    CraneOutput,
    Rack,
    Ring,
    Screw,
    Spool,
)
from mild_badger.core.vehicle.lever_drive import LeverDrive
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["count_mechanisms"]


def count_mechanisms(tally: Tally, vehicle: Vehicle) -> None:
    """Count every mechanism that is planned; lengths in tenths of a millimetre."""
    if vehicle.clutch is not None:
        tally.add("lining", 0, "clutch", vehicle.clutch.faces)
        tally.add("clutch plate", 0, "clutch", vehicle.clutch.faces + 1)
        tally.add("shaft", 0, "clutch")
    for line in vehicle.liquids:
        tally.add("master", round(10 * line.master_mm), line.name)
        tally.add("slave", round(10 * line.slave_mm), line.name, line.slaves)
    if vehicle.stepless is not None:
        own = {"brick": "brick", "wood": "wood"}.get(vehicle.kit.kind, "metal")
        _count_lever(tally, vehicle.stepless, own, vehicle.kit.shaft_diameter_mm)
    if vehicle.display is not None:
        tally.train(vehicle.display.pairs, "display engine", free_end=False)
        tally.add("shaft", 0, "display engine", 1 if vehicle.display.pairs else 0)
    for run in vehicle.cables.runs if vehicle.cables is not None else ():
        tally.add("holed lever", 0, run.name, len(run.levers))
        tally.add("cable", 0, run.name)
    tally.add("holed lever", 0, "hand's lever", 1 if vehicle.cables is not None else 0)
    for output in vehicle.crane.outputs if vehicle.crane is not None else ():
        _count_output(tally, output)


def _count_lever(tally: Tally, drive: LeverDrive, bearing: str, shaft_mm: float) -> None:
    """Count a lever drive: a lever and a rod each, a ratchet wheel and a pawl for each stroke.

    A rod runs between two pins, a pawl on one, a lever on its fulcrum; throws and wheel turn in two
    bearings each.
    """
    user = "lever drive"
    tally.add("rod", 0, user, drive.ratchets)
    tally.add("pin", 0, user, drive.ratchets * 3 + drive.pawls)
    tally.add(f"{bearing} bearing", round(10 * shaft_mm), user, 4)
    tally.train(drive.pairs, user, free_end=False)
    tally.add("shaft", 0, user, 2)
    tally.add("lever", 0, user, drive.ratchets)
    tally.add("ratchet", 0, user, drive.wheels)
    tally.add("pawl", 0, user, drive.pawls)


def _count_output(tally: Tally, output: CraneOutput) -> None:
    """Count an output: what runs loose on another's shaft is free, the rest is glued."""
    user, carried, end = output.name, output.carried, output.end
    loose, last = output.loose_on is not None, len(output.pairs) - 1
    for number, pair in enumerate(output.pairs):
        tally.add("free" if loose and number else "fixed", pair.driver, user)
        tally.add("free" if loose and number < last else "fixed", pair.driven, user)
        for idler in pair.idlers:
            tally.add("fixed", idler, user)
        tally.add("shaft", 0, user, len(pair.idlers))
    own = (output.source == OWN_INPUT) + bool(output.pairs or output.worm)
    tally.add("shaft", 0, user, own + (0 if loose else len(inner_shafts(output))))
    if output.worm is not None:
        tally.add("worm", output.worm.starts, user)
        tally.add("worm wheel", output.worm.teeth, user)
    tally.add("coupling half", 0, user, 2 if output.keys else 0)
    tally.add(f"{carried.bearing} bearing", round(10 * carried.shaft_mm), user, 2)
    match end:
        case Ring():
            tally.add("fixed", end.pinion, user)
            tally.add("slewing ring", end.teeth, user)
        case Screw():
            tally.add("lead screw", round(10 * end.lead_mm), user, end.screws)
            tally.add("lead nut", round(10 * end.lead_mm), user, end.screws)
        case Spool():
            for rope in range(end.ropes):
                drum = end.made_mm[rope] if end.made_mm else end.drum_mm
                tally.add("drum", round(10 * drum), user)
            tally.add("rope", round(10 * end.rope_length_mm), user, end.ropes)
            tally.add("adjuster", 0, user, end.ropes if end.ropes > 1 else 0)
        case Rack():
            tally.add("fixed", end.pinion, user)
            tally.add("rack", round(10 * end.travel_mm), user)
        case _:
            pass
