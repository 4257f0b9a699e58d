"""How far parts are: what is made is superseded once it is drawn otherwise, by that version."""

import csv
import io

from mild_badger.core.evaluate import evaluate
from mild_badger.core.publish.tables import parts_csv
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.versions import restore_version, save_version
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.shopping import shopping
from mild_badger.core.workshop.states import (
    mark_states,
    part_marks,
    progress_of,
    state_findings,
    step_done,
    superseded,
    tick_step,
)

TRACTOR = "larkholm-timber-tractor"


def built() -> Vehicle:
    """The tractor with its walls made and its first two steps done, kept as a version."""
    vehicle = demo_vehicle(TRACTOR)
    plan = assembly_plan(vehicle)
    walls = [part.key for part in plan.parts if part.kind == "wall"]
    vehicle = apply_edit(vehicle, mark_states(vehicle, walls, "made"))
    for step in plan.steps[:2]:
        vehicle = apply_edit(vehicle, tick_step(vehicle, step, done=True))
    return apply_edit(vehicle, save_version(vehicle, "as built", "2026-11-01"))


def changed(vehicle: Vehicle, *path: str, to: object) -> Vehicle:
    return apply_edit(vehicle, Edit.one("change", path, to))


def test_what_stays_as_it_was_made_is_not_superseded() -> None:
    vehicle = built()
    assert superseded(vehicle) == {}
    for other in (
        changed(vehicle, "notes", to="another word"),
        changed(vehicle, "motor", "no_load_rpm", to=3000.0),
        decode(encode(vehicle)),  # as it comes back from its file
    ):
        assert superseded(other) == {}
    assert list(state_findings(vehicle)) == []


def test_thicker_walls_are_to_be_made_anew_and_their_version_asks_for_it() -> None:
    vehicle = built()
    steps = assembly_plan(vehicle).steps
    thicker = changed(vehicle, "frame", "wall_mm", to=9.0)
    found = superseded(thicker)
    walls = {part.key for part in assembly_plan(vehicle).parts if part.kind == "wall"}
    assert walls <= found.keys()
    assert {one.revision for one in found.values()} == {""}
    assert step_done(vehicle, steps[0])
    assert not step_done(thicker, steps[0])
    kept = apply_edit(thicker, save_version(thicker, "thick walls", "2026-11-08"))
    kept = changed(kept, "notes", to="as it goes on")
    later = apply_edit(kept, save_version(kept, "later", "2026-11-09"))
    assert {one.revision for one in superseded(later).values()} == {"thick walls"}
    (finding,) = state_findings(later)
    assert (finding.code, finding.figure) == ("superseded", len(found))
    # made anew it is as it is drawn; gone back it is what was made
    anew = apply_edit(later, mark_states(later, walls, "made"))
    assert walls.isdisjoint(superseded(anew))
    assert superseded(apply_edit(later, restore_version(later, "as built"))) == {}


def test_a_part_that_the_plan_no_longer_has_is_told_apart() -> None:
    vehicle = built()
    old = vehicle.assembly.states[0].model_copy(update={"key": "gone for good"})
    gone = changed(vehicle, "assembly", "states", to=[*vehicle.assembly.states, old])
    assert {key: one.gone for key, one in superseded(gone).items()} == {"gone for good": True}
    assert [f.code for f in state_findings(gone)] == ["no-longer-needed"]


def test_every_line_of_the_list_says_how_far_its_parts_are() -> None:
    vehicle = changed(built(), "frame", "wall_mm", to=9.0)
    lines = shopping(vehicle)
    walls = next(line for line in lines if line.part.key[0] == "plate")
    progress = progress_of(vehicle, walls.keys)
    assert (progress.made, progress.fitted, progress.remake) == (0, 0, 3)
    rows = csv.DictReader(io.StringIO(parts_csv(evaluate(vehicle))))
    (row,) = (row for row in rows if row["part"].startswith("wall, 9 mm"))
    assert row["superseded"] == "3"
    # as many parts stand in space as the list counts, where it counts them one by one
    for line in lines:
        if line.part.key[0] in ("fixed", "plate", "fork", "wheel", "post"):
            assert (line.part.name, len(line.keys)) == (line.part.name, line.part.needed)


def test_marks_tell_shapes_and_not_places() -> None:
    vehicle = demo_vehicle(TRACTOR)
    plan = assembly_plan(vehicle)
    gears = [part for part in plan.parts if part.kind == "gear" and not part.free]
    marks = part_marks(vehicle, [part.key for part in gears])
    alike = [p for p in gears if p.teeth == 10]
    assert len(alike) > 1
    assert len({marks[p.key] for p in alike}) == 1
    assert len({marks[p.key] for p in gears}) == len({p.teeth for p in gears})
