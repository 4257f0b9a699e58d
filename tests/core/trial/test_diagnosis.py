"""The diagnosis against faults that a separate rig was built with, read through its pulses."""

import ast
from fractions import Fraction
from importlib.resources import files
from random import Random

import pytest

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.trial import diagnosis
from mild_badger.core.trial.diagnosis import Diagnosis, diagnose
from mild_badger.core.trial.expected import expected, places, positions
from mild_badger.core.trial.faults import Suspect
from mild_badger.core.trial.record_reading import take_reading
from mild_badger.core.trial.rig import RigFault, RigRun, SlotDisc, faults_of, parse_fault, pulses
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import Reading
from telling import tells

NOISE = 0.003
"""Share by which two speeds must differ to be told apart in these runs."""


def read(vehicle: Vehicle, run: RigRun) -> Reading:
    lines = list(pulses(vehicle, run))
    if len(lines) == 1:
        return Reading(position=run.position, body=run.body, jams=True, source="tachometer")
    slots = {"slots_in": run.source.slots, "slots_out": run.output.slots}
    reading, _, taken = take_reading(lines, run.position, run.body, **slots)
    assert reading is not None, (run, taken.summary)
    return reading


def on_the_tab(
    vehicle: Vehicle, fault: RigFault, seed: int, more: int = 3
) -> tuple[Diagnosis, list[Reading]]:
    """Read every position at the output and the wheels once, then follow the advice."""
    output, wheels = (place.body for place in places(vehicle)[:2])
    asked = [(position, output) for position in positions(vehicle)]
    asked.append((positions(vehicle)[-1], wheels))
    readings = []
    for number, (position, body) in enumerate(asked):
        run = RigRun(position, body, fault, seed=seed + number, seconds=60, rpm=600)
        readings.append(read(vehicle, run))
    found = diagnose(vehicle, readings)
    for number in range(more):
        if found.next_reading is None:
            break
        ask = found.next_reading
        run = RigRun(ask.position, ask.body, fault, seed=seed + 50 + number, seconds=60, rpm=600)
        readings.append(read(vehicle, run))
        found = diagnose(vehicle, readings)
    return found, readings


def is_it(fault: RigFault, suspect: Suspect, vehicle: Vehicle) -> bool:
    """Whether a suspect is the fault the rig was built with, part by part."""
    scaled = {(body, new) for body, _, new in suspect.scaled}
    place = f"{fault.train}/{fault.pair}"
    match fault.kind:
        case "swapped gear":
            return scaled == {(f"{place}.{fault.role}", fault.teeth)}
        case "swapped pair":
            return {body for body, _ in scaled} == {f"{place}.driver", f"{place}.driven"}
        case "missing idler":
            return suspect.kind == "idler out" and f"{place}.idler0" in suspect.turned[0]
        case "wrong sleeve":
            return (fault.gear, fault.other) == (suspect.sleeves or (("", ""),))[0] and len(
                suspect.sleeves
            ) == 1
        case "glued gear":
            return suspect.kind == "glued" and any(
                f"gear {fault.gear}/" in body for e in suspect.added for body in e.bodies
            )
        case "slipping dog":
            return suspect.kind == "slip" and suspect.slips.startswith("sleeve")
        case _:
            return suspect.kind == "slip" and f"{place}.driven" in suspect.slips


def signature(vehicle: Vehicle, fault: RigFault | None) -> list[Fraction | str | None]:
    """What the rig's own machine shows everywhere: solved as built, slips taken off."""
    from mild_badger.core.trial import rig  # noqa: PLC0415 - the rig's inside, for the truth

    found: list[Fraction | str | None] = []
    slips = fault is not None and fault.percent > 0
    for position in positions(vehicle):
        solution, slip = rig._solved(vehicle, RigRun(position, places(vehicle)[0].body, fault))
        for place in places(vehicle):
            if slips:
                solution, slip = rig._solved(vehicle, RigRun(position, place.body, fault))
            speed = solution.speeds.get(place.body)
            seen = None if speed is None else speed * Fraction(1 - slip).limit_denominator(10_000)
            found.append("jams" if solution.locked else seen)
    return found


def told_apart(one: list[Fraction | str | None], other: list[Fraction | str | None]) -> bool:
    """Whether two machines differ anywhere by more than the noise, direction unseen."""
    for a, b in zip(one, other, strict=True):
        if isinstance(a, Fraction) and isinstance(b, Fraction):
            if abs(abs(a) - abs(b)) > NOISE * max(abs(a), abs(b)):
                return True
        elif a != b:
            return True
    return False


@pytest.mark.parametrize(
    ("name", "cases"),
    [("larkholm-mail-bus", 5), ("larkholm-timber-tractor", 9), ("larkholm-street-sweeper", 5)],
)
def test_the_true_fault_is_among_the_first_three(name: str, cases: int) -> None:
    """Seeded random faults; those whose machine no reading tells from three others do not count."""
    vehicle = example_vehicle(name)
    every = faults_of(vehicle)
    machines = {fault: signature(vehicle, fault) for fault in every}
    planned = signature(vehicle, None)
    random = Random(11)
    counted = right = 0
    for case in range(cases):
        fault = random.choice(every)
        alike = [
            other
            for other in every
            if other != fault and not told_apart(machines[fault], machines[other])
        ]
        found, _ = on_the_tab(vehicle, fault, 1000 * case)
        if not told_apart(machines[fault], planned):
            assert found.fits or not found.candidates  # nothing to be seen, nothing claimed
            continue
        if len(alike) > 2:
            top = found.candidates[0]
            assert top.alike  # and the program says so
            continue
        counted += 1
        right += any(is_it(fault, c.suspect, vehicle) for c in found.candidates[:3])
    assert counted >= 0.7 * cases
    assert right >= 0.95 * counted


def test_the_rig_and_the_diagnosis_share_no_code_but_the_solver() -> None:
    """The lines of either file: neither knows the other."""
    folder = files("mild_badger.core.trial")
    imported: dict[str, set[str]] = {}
    for name in ("rig", "diagnosis", "faults"):
        tree = ast.parse((folder / f"{name}.py").read_text("utf-8"))
        imported[name] = {n.module or "" for n in ast.walk(tree) if isinstance(n, ast.ImportFrom)}
    trial = "mild_badger.core.trial."
    assert not {m for m in imported["rig"] if m.startswith(trial)}
    assert all(f"{trial}rig" not in imported[name] for name in ("diagnosis", "faults"))


@pytest.mark.parametrize("name", DEMOS)
def test_short_cuts_show_what_the_whole_drivetrain_solved_shows(name: str) -> None:
    """Every kind of fault, at random places: the families and loose ends against plain solving."""
    vehicle = example_vehicle(name)
    case = diagnosis._case(vehicle)
    random = Random(7)
    asked = [(p, q.body) for p in positions(vehicle) for q in places(vehicle)]
    checked = 0
    families = diagnosis._families(case)
    for prediction in random.sample(families, min(120, len(families))):
        suspect = prediction.suspect
        if suspect.slips:
            continue  # its share is not known before there are readings
        for position, body in random.sample(asked, 6):
            if body in suspect.gone:
                continue
            plain = case.seen(
                case.solved(suspect.built(case.train), suspect.position(position)), body
            )
            assert prediction.at(position, body) == plain, (suspect.words, position, body)
            checked += 1
    assert checked > min(300, len(families))


def test_a_missing_idler_shows_by_its_direction() -> None:
    vehicle = example_vehicle()
    place = places(vehicle)[0].body
    gear = next(
        g.name
        for g in vehicle.real.gears
        if any(
            link.pair.idlers and link.key == f"gear {g.name}" for link in vehicle.box.chain(g.name)
        )
    )
    readings = []
    for position in positions(vehicle)[1:]:
        planned = expected(vehicle, position, place)
        assert planned is not None
        way = (1 if planned > 0 else -1) * (-1 if position == gear else 1)
        readings.append(
            Reading(position=position, body=place, turns=abs(float(planned)), spread=0.01, way=way)
        )
    found = diagnose(vehicle, readings)
    assert [r.position for r in found.disagreeing] == [gear]
    assert found.candidates[0].suspect.kind == "idler out"
    assert f"Gear {gear}" in found.candidates[0].words


def test_two_faults_at_once_are_not_blamed_on_one() -> None:
    vehicle = example_vehicle()
    place = places(vehicle)[0].body
    readings = [
        Reading(position="1", body=place, turns=0.11, spread=0.0005),
        Reading(position="3", body=place, turns=0.47, spread=0.0005),
    ]
    found = diagnose(vehicle, readings)
    assert found.candidates == ()
    assert tells(found.words, "trial.of-readings-are-not-as-planned-and-no-single")
    assert found.nearest


def test_no_readings_and_good_readings_are_said_to_be_so() -> None:
    vehicle = example_vehicle()
    assert tells(diagnose(vehicle).words, "trial.nothing-has-been-read-yet-engage-a-position")
    place = places(vehicle)[0].body
    good = [Reading(position="3", body=place, turns=0.48, spread=0.001)]
    words = diagnose(vehicle, good).words
    assert tells(words, "trial.the-reading-is-as-planned")
    assert tells(words, "trial.not-read-yet", listed="N, 1, 2, 4, 5, 6, R")


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("swapped gear:gear 3:1:driver:16", "swapped gear"),
        ("swapped pair:gear 3:2", "swapped pair"),
        ("wrong sleeve:3:4", "wrong sleeve"),
        ("slipping dog:3:12.5", "slipping dog"),
        ("glued gear:R", "glued gear"),
        ("skipping tooth:gear 3:1:5", "skipping tooth"),
    ],
)
def test_faults_are_written_in_words(text: str, kind: str) -> None:
    fault = parse_fault(example_vehicle(), text)
    assert fault.kind == kind
    assert list(pulses(example_vehicle(), RigRun("3", "selector.1", fault, seconds=1)))


@pytest.mark.parametrize(
    "text",
    [
        "",
        "broken",
        "swapped gear:gear 3",
        "swapped gear:gear 3:1:middle:16",
        "slipping dog:3:much",
        "swapped gear:gear 99:1:driver:16",
        "missing idler:gear 3:1",
        "swapped pair:gear 3:9",
        "glued gear:99",
        "swapped gear:gear 3:1:driver:900",
    ],
)
def test_faults_that_cannot_be_are_refused_with_a_sentence(text: str) -> None:
    with pytest.raises(InputError, match=r"[a-z]{3}.*\."):
        list(
            pulses(
                example_vehicle(), RigRun("3", "selector.1", parse_fault(example_vehicle(), text))
            )
        )


def test_the_rig_s_instruments_may_be_poor_too() -> None:
    vehicle = example_vehicle()
    poor = SlotDisc(slots=8, bent=0.25, missed=0.05, noise_us=200)
    run = RigRun("3", "selector.1", seconds=40, source=poor, output=poor, rpm=400)
    lines = list(pulses(vehicle, run))
    reading, reader, taken = take_reading(lines, "3", "selector.1", slots_in=8, slots_out=8)
    assert reading is not None
    assert reader.refused <= len(lines) // 50  # noise may put two stamps the wrong way round
    assert reading.turns == pytest.approx(0.48, abs=reading.spread * 1.5)
    assert "missed" in taken.summary
