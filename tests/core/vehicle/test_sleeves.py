"""A sleeve is known by what it couples, and what was noted of it stays with it."""

import json
import pickle

from examples import example_vehicle
from mild_badger.core.layout.old_part_keys import with_part_ids
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.slot_box import stack_of
from mild_badger.core.trial.built import bays
from mild_badger.core.vehicle.assembly import Assembly, Joint, PartState
from mild_badger.core.vehicle.boxes import RangeBox
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.gears import remove_gear
from mild_badger.core.vehicle.edit.slots import move_slot
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import SleeveId, column_of, describe_sleeve, rail_of
from mild_badger.core.vehicle.trial import Measured
from mild_badger.core.workshop.assembly import assembly_plan
from strategies import placed_demo


def _marked() -> Vehicle:
    """The mail bus with a mark on the sleeve of 1 and 2, on its rail and on its fork."""
    keys = ("sleeve.1+2", "fork rail.1+2", "fork of sleeve.1+2", "wall 1")
    states = tuple(PartState(key=key, state="made") for key in keys)
    return example_vehicle("larkholm-mail-bus").model_copy(
        update={"assembly": Assembly(states=states, ticks=("sleeve.1+2",))}
    )


def _keys(vehicle: Vehicle) -> list[str]:
    return [state.key for state in vehicle.assembly.states]


def test_an_id_is_made_of_what_is_coupled_in_whatever_order() -> None:
    sleeve = SleeveId("range sleeve", 2, ["b", "a"])
    assert sleeve == SleeveId("range sleeve", 7, ["a", "b"]) == "range sleeve.a+b"
    assert (rail_of(sleeve), column_of(sleeve)) == ("range sleeve", 2)
    copy = pickle.loads(pickle.dumps(sleeve))
    assert (copy, copy.number, copy.rail) == (sleeve, 2, "range sleeve")
    assert SleeveId("sleeve", 1, ()) != SleeveId("sleeve", 2, ())
    assert describe_sleeve(sleeve) == "range sleeve 2"
    assert describe_sleeve("slider.hi") == "slider hi"  # of a graph file


def test_sleeves_that_change_columns_stay_the_same() -> None:
    bus = _marked()
    one, other = (bus.box.engaged(gear) for gear in ("1", "3"))
    for gear, column in (("1", 9), ("2", 9), ("3", 1), ("4", 1), ("1", 2), ("2", 2)):
        face = next(iter(bus.box.engaged(gear).values()))
        bus = apply_edit(bus, move_slot(bus, gear, column, face))
    assert bus.box.engaged("1") == one
    assert bus.box.engaged("3") == other
    assert column_of(next(iter(bus.box.engaged("1")))) == 2
    assert _keys(bus) == _keys(_marked())


def test_what_was_noted_of_a_sleeve_follows_it_to_other_gears() -> None:
    bus = _marked()
    alone = apply_edit(bus, remove_gear(bus, "2"))
    assert _keys(alone) == ["sleeve.1", "fork rail.1", "fork of sleeve.1", "wall 1"]
    assert alone.assembly.ticks == ("sleeve.1",)
    joined = apply_edit(alone, move_slot(alone, "R", *_free_face(alone)))
    assert _keys(joined)[:2] == ["sleeve.1+R", "fork rail.1+R"]
    gone = apply_edit(alone, remove_gear(alone, "1"))
    assert _keys(gone) == _keys(alone)  # kept: it comes back with the gear


def _free_face(vehicle: Vehicle) -> tuple[int, str]:
    ((sleeve, face),) = vehicle.box.engaged("1").items()
    return column_of(sleeve), "back" if face == "front" else "front"


def test_marks_are_those_of_the_parts_and_a_like_id_keeps_its_own() -> None:
    plan = assembly_plan(placed_demo("larkholm-mail-bus"))
    assert {key for key in _keys(_marked()) if key != "wall 1"} <= {p.key for p in plan.parts}
    ten = _marked()
    more = (PartState(key="sleeve.1+20", state="made"), PartState(key="sleeve.1", state="drawn"))
    ten = ten.model_copy(
        update={"assembly": Assembly(states=(*ten.assembly.states, *more), ticks=())}
    )
    alone = apply_edit(ten, remove_gear(ten, "3"))  # the sleeve of 3 and 4 is that of 4 now
    assert _keys(alone) == _keys(ten)


def test_where_two_sleeves_become_one_no_part_is_marked_twice() -> None:
    bus = example_vehicle("larkholm-mail-bus")
    for gear in ("2", "4"):
        bus = apply_edit(bus, remove_gear(bus, gear))
    states = tuple(PartState(key=f"sleeve.{gear}", state="made") for gear in ("1", "3"))
    bus = bus.model_copy(update={"assembly": Assembly(states=states)})
    both = apply_edit(bus, move_slot(bus, "3", *_free_face(bus)))
    assert "sleeve.1+3" in both.box.engaged("1")
    assert _keys(both) == ["sleeve.1+3"]
    assert decode(encode(both)) == both


def test_a_range_box_knows_its_sleeves_by_their_pairs() -> None:
    assert RangeBox.sleeve("splitter", 1) == ("splitter sleeve.1+2", "front")
    assert RangeBox.sleeve("splitter", 2) == ("splitter sleeve.1+2", "back")
    assert RangeBox.sleeve("range", 3) == ("range sleeve.3+4", "front")


def test_forks_and_rails_are_those_of_their_sleeves() -> None:
    bus = placed_demo("larkholm-mail-bus")
    assert bus.layout is not None
    stack = stack_of(bus, bus.layout)
    for fork in forks_of(bus, stack):
        assert fork.rail.name == fork.column.replace("sleeve", "fork rail")
        assert describe_sleeve(fork.rail.name) == f"fork rail {column_of(fork.column)}"


def test_files_before_version_8_keep_what_was_noted_by_column() -> None:
    bus = _marked()
    data = json.loads(encode(bus))
    text = json.dumps(data["vehicle"]["assembly"])
    data["vehicle"]["assembly"] = json.loads(text.replace("1+2", "1"))
    data["vehicle"]["assembly"]["ticks"] += ["sleeve.9", "splitter sleeve.2"]
    data["version"] = 7
    read = decode(json.dumps(data).encode())
    assert _keys(read) == _keys(bus)
    assert read.assembly.ticks == ("sleeve.1+2", "sleeve.empty 9", "splitter sleeve.3+4")
    for demo, old, new in (
        ("larkholm-mail-bus", "selector.2: sleeve 1", "sleeve.3+4"),
        ("larkholm-timber-tractor", "output: sleeve 1", "sleeve.5+R"),
        ("larkholm-timber-tractor", "output: sleeve 3", "sleeve.3+4"),
        ("larkholm-timber-tractor", "output: sleeve 9", "output: sleeve 9"),
    ):
        data = json.loads(encode(example_vehicle(demo)))
        data["version"] = 7
        data["vehicle"]["assembly"]["states"] = [{"key": old, "state": "made"}]
        assert _keys(decode(json.dumps(data).encode())) == [new]
        placed = assembly_plan(placed_demo(demo))
        assert new == old or new in {part.key for part in placed.parts}
    emptied = apply_edit(read, Edit.one("", ("assembly", "ticks"), bus.assembly.ticks))
    assert emptied == bus


def test_files_before_version_9_keep_what_was_noted_by_number() -> None:
    """The old keys were written out here by hand, from files of that time."""
    tractor = example_vehicle("larkholm-timber-tractor")
    old = {
        "input.1: gear 1": "input pair/0.driver",
        "output: free gear 2": "gear 1/0.driven",
        "layshaft.1: spacer 1": "spacer of layshaft.1 between front wall and input pair/0.driven",
        "input.1: hub 1": "hub",
        "gear R/idler shaft 0.0: post 1": "post of gear R/idler shaft 0.0 in sleeve.5+R",
        "post 1": "tie rod low left",
        "coupling: output": "coupling: output",
        "gone.7: gear 9": "gone.7: gear 9",
    }
    states = [PartState(key=key, state="made") for key in old]
    joints = (Joint(key="input.1: gear 1", kind="pinned"),)
    measured = (Measured(key="layshaft.1: spacer 1", mm=4.5),)
    marked = tractor.model_copy(
        update={
            "assembly": Assembly(states=tuple(states), joints=joints, ticks=("post 1", "stuck")),
            "trial": tractor.trial.model_copy(update={"measured": measured}),
        }
    )
    read = with_part_ids(marked)
    assert _keys(read) == list(old.values())
    assert read.assembly.joints[0].key == "input pair/0.driver"
    assert read.trial.measured[0].key == old["layshaft.1: spacer 1"]
    assert read.assembly.ticks == ("tie rod low left", "stuck")
    assert with_part_ids(read) == read
    known = {part.key for part in assembly_plan(read).parts}
    assert set(old.values()) - known == {"coupling: output", "gone.7: gear 9"}
    bays_of = {part.key: part.mm for bay in bays(read) for part in bay.parts}
    assert bays_of[old["layshaft.1: spacer 1"]] == 4.5
