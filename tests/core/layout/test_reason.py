"""Why a box has no place: told by what its builder can do about it."""

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.registry import blank_box
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from telling import tells


@pytest.mark.parametrize(
    ("kind", "code"),
    [
        ("none", "layout.this-vehicle-has-no-box-to-place"),
        ("layshaft", "layout.the-shafts-stand-when-every-gear-has-its-pair"),
    ],
)
def test_each_architecture_says_its_own(kind: str, code: str) -> None:
    bus = example_vehicle()
    assert tells(why_no_place(apply_edit(bus, apply_box(bus, blank_box(kind, ["1"])))), code)


def test_a_slot_box_is_sent_to_its_trains_first_then_to_its_placing() -> None:
    blank = blank_vehicle(shipped_kit("brick-grid"))
    assert tells(why_no_place(blank), "layout.no-slot-has-a-train-yet-find-the-set-on-the")
    code = "components.the-box-has-no-place-in-space-yet-place-it"
    assert tells(why_no_place(example_vehicle()), code)
