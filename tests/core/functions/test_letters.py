"""Shafts of a function box have letters that go on after the box's, and keep them."""

from examples import example_vehicle
from mild_badger.core.driveline.assemble import lettered, letters_of
from mild_badger.core.functions.letters import with_function_letters
from mild_badger.core.functions.prove import INPUT, ONE_WAY, output_body
from mild_badger.core.functions.result import function_result
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle


def sweeper() -> Vehicle:
    return example_vehicle("larkholm-street-sweeper")


def test_letters_go_on_after_the_box_in_the_order_of_the_power() -> None:
    vehicle = sweeper()
    result = function_result(vehicle)
    assert result is not None
    assert vehicle.functions is not None
    of_box = {entry.letter for entry in letters_of(vehicle)}
    assert not of_box & set(result.letters.values())
    assert len(set(result.letters.values())) == len(result.letters)
    order = [body for body, _ in sorted(result.letters.items(), key=lambda e: (len(e[1]), e[1]))]
    assert order[0] == INPUT
    for branch in result.arrangement.branches:
        feed = ONE_WAY if branch.feed == "one-way" else INPUT
        assert order.index(feed) < order.index(output_body(branch.output))
    for output in vehicle.functions.outputs:
        assert result.output_letter(output.id)
    # a free gear and what a one-way clutch drives sit on shafts and are none
    assert not any(body.endswith(("/head", "/tail")) for body in result.letters)


def test_letters_are_stored_and_kept_when_outputs_go_and_come() -> None:
    vehicle = with_function_letters(lettered(sweeper()))
    assert with_function_letters(vehicle) == vehicle
    before = function_result(vehicle)
    assert before is not None
    assert vehicle.functions is not None
    less = apply_edit(
        vehicle, Edit.one("", ("functions", "outputs", 0, "name"), "renamed for the letters")
    )
    now = function_result(with_function_letters(lettered(less)))
    assert now is not None
    assert now.letters == before.letters


def test_without_a_function_box_there_is_nothing_to_letter() -> None:
    bus = example_vehicle("larkholm-mail-bus")
    assert with_function_letters(bus) is bus
