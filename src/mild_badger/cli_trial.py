"""The commands ``rig`` and ``trial``: the stand-in tachometer, and what readings say."""

import argparse
from dataclasses import replace
from pathlib import Path
from typing import Any

from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.trial.diagnosis import Diagnosis, diagnose
from mild_badger.core.trial.expected import places, position_called, positions, trial_steps
from mild_badger.core.trial.readings import note_reading
from mild_badger.core.trial.record_reading import take_reading
from mild_badger.core.trial.rig import FAULT_KINDS, RigRun, SlotDisc, parse_fault, pulses
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.reader import read_text
from mild_badger.files.vehicle_file import load, save
from mild_badger.terminal import show, show_json

__all__ = ["add_rig_options", "add_trial_options", "run_rig", "run_trial"]


def add_rig_options(parser: argparse.ArgumentParser) -> None:
    """Add the options of ``rig``."""
    parser.add_argument("file", type=Path)
    parser.add_argument(
        "--position",
        required=True,
        metavar="GEAR",
        help=say("command-line.gear-that-is-engaged-n-for-neutral"),
    )
    parser.add_argument(
        "--at",
        metavar="BODY",
        help=say("command-line.part-that-carries-the-second-disc-the-output"),
    )
    parser.add_argument(
        "--fault",
        metavar="FAULT",
        help=say("command-line.one-of", listed="; ".join(FAULT_KINDS.values())),
    )
    parser.add_argument(
        "--rpm", type=float, default=300.0, help=say("command-line.speed-of-the-input-shaft")
    )
    parser.add_argument("--seconds", type=float, default=20.0)
    parser.add_argument("--slots", type=int, default=6, help=say("command-line.slots-of-each-disc"))
    parser.add_argument(
        "--bent",
        type=float,
        default=0.0,
        metavar="SHARE",
        help=say("command-line.share-by-which-one-slot-is-out-of-place"),
    )
    parser.add_argument(
        "--missed",
        type=float,
        default=0.0,
        metavar="SHARE",
        help=say("command-line.share-of-pulses-that-are-missed"),
    )
    parser.add_argument(
        "--noise",
        type=float,
        default=20.0,
        metavar="US",
        help=say("command-line.noise-of-the-time-stamps-in-microseconds"),
    )
    parser.add_argument("--seed", type=int, default=1)


def add_trial_options(parser: argparse.ArgumentParser) -> None:
    """Add the options of ``trial``."""
    parser.add_argument("file", type=Path)
    parser.add_argument(
        "--read", type=Path, metavar="PULSES", help=say("command-line.take-a-reading-from-a-file")
    )
    parser.add_argument(
        "--position",
        metavar="GEAR",
        help=say("command-line.gear-in-which-the-reading-was-taken-n-for"),
    )
    parser.add_argument(
        "--at",
        metavar="BODY",
        help=say("command-line.part-that-carried-the-second-disc-the-output"),
    )
    parser.add_argument(
        "--save",
        type=Path,
        metavar="FILE",
        help=say("command-line.write-the-vehicle-with-the-reading"),
    )
    parser.add_argument("--json", action="store_true")


def run_rig(options: argparse.Namespace) -> int:
    """Print the rig's pulses, a line each."""
    vehicle = load(options.file)
    if not (1 <= options.rpm <= 20_000 and 0.1 <= options.seconds <= 600):
        raise InputError(say("command-line.the-rig-turns-1-to-20000-rpm-for-0-1-to-600"))
    if not (1 <= options.slots <= 400 and 0 <= options.missed <= 0.5 and 0 <= options.bent <= 0.35):
        raise InputError(say("command-line.discs-have-1-to-400-slots-bent-by-0-to-0-35"))
    if not 0 <= options.noise <= 5000:
        raise InputError(say("command-line.the-noise-of-the-stamps-is-0-to-5000-s"))
    if not 0 <= options.seed < 2**63:
        raise InputError(say("command-line.the-seed-is-a-whole-number-0-or-more"))
    disc = SlotDisc(slots=options.slots, noise_us=options.noise)
    run = RigRun(
        position=position_called(vehicle, options.position),
        body=options.at or places(vehicle)[0].body,
        fault=parse_fault(vehicle, options.fault) if options.fault else None,
        rpm=options.rpm,
        seconds=options.seconds,
        source=disc,
        output=replace(disc, bent=options.bent, missed=options.missed),
        seed=options.seed,
    )
    for line in pulses(vehicle, run):
        print(line)
    return 0


def run_trial(options: argparse.Namespace) -> int:
    """Print the trial list and the diagnosis; exit code 1 where readings are not as planned."""
    vehicle = load(options.file)
    sentence = ""
    if options.read is not None:
        vehicle, sentence = _read(vehicle, options)
    diagnosis = diagnose(vehicle)
    if options.json:
        show_json(_data(vehicle, diagnosis))
    else:
        units = vehicle.shown_in
        for step in trial_steps(vehicle):
            tick = "x" if step.position in vehicle.trial.ticks else " "
            show(
                f"[{tick}] {vehicle.gear_name(step.position):>3}  {step.sleeves}: {step.words}",
                units,
            )
        if sentence:
            show(sentence, units)
        show(diagnosis.words, units)
        for candidate in diagnosis.candidates[:10]:
            show(
                say(
                    "command-line.look",
                    share=100 * candidate.share,
                    words=candidate.words,
                    look=candidate.look,
                ),
                units,
            )
        for words in diagnosis.nearest:
            show(say("command-line.nearest", words=words), units)
        if diagnosis.next_reading is not None:
            show(diagnosis.next_reading.words, units)
    if options.save is not None:
        save(vehicle, options.save)
    return int(bool(diagnosis.disagreeing))


def _read(vehicle: Vehicle, options: argparse.Namespace) -> tuple[Vehicle, str]:
    position = position_called(vehicle, options.position or "")
    if position not in positions(vehicle):
        raise InputError(
            say(
                "command-line.position-must-be-one-of-it-says-in-which-the",
                listed=", ".join(map(vehicle.gear_name, positions(vehicle))),
            )
        )
    body = options.at or places(vehicle)[0].body
    if body not in [place.body for place in places(vehicle)]:
        known = ", ".join(place.body for place in places(vehicle))
        raise InputError(say("command-line.at-must-be-one-of", known=known))
    trial = vehicle.trial
    reading, reader, taken = take_reading(
        read_text(options.read),
        position,
        body,
        slots_in=trial.slots_in,
        slots_out=trial.slots_out,
    )
    if reading is None:
        raise InputError(f"{options.read.name}: {reader.summary} {taken.summary}")
    return apply_edit(vehicle, note_reading(vehicle, reading)), f"{reader.summary} {taken.summary}"


def _data(vehicle: Vehicle, diagnosis: Diagnosis) -> dict[str, Any]:
    ask = diagnosis.next_reading
    return {
        "positions": [
            {
                "position": vehicle.gear_name(step.position),
                "sleeves": step.sleeves,
                "output_turns": None if step.turns is None else str(step.turns),
                "wheel_turns": None if step.wheel_turns is None else str(step.wheel_turns),
                "ticked": step.position in vehicle.trial.ticks,
            }
            for step in trial_steps(vehicle)
        ],
        "places": [place.body for place in places(vehicle)],
        "readings": [reading.model_dump() for reading in vehicle.trial.readings],
        "words": diagnosis.words,
        "not_as_planned": [
            vehicle.gear_name(reading.position) for reading in diagnosis.disagreeing
        ],
        "candidates": [
            {
                "fault": c.words,
                "kind": c.suspect.kind,
                "share": round(c.share, 4),
                "look": c.look,
                "alike": list(c.alike),
            }
            for c in diagnosis.candidates
        ],
        "next_reading": None
        if ask is None
        else {"position": vehicle.gear_name(ask.position), "at": ask.body},
    }
