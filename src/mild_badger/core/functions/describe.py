"""What a function box comes to in words, and the list of trials a builder runs on it."""

from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.figures import in_unit
from mild_badger.core.functions.arrange import Arrangement
from mild_badger.core.functions.prove import FunctionState, OutputSpeed
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import counted, plural

__all__ = ["describe_arrangement", "describe_motion", "describe_speed", "end_speed", "trial_list"]

MOTOR = {1: "forwards", -1: "backwards"}


def describe_arrangement(
    box: FunctionBox, arrangement: Arrangement, states: tuple[FunctionState, ...]
) -> str:
    """Say what is to be built and what was proven."""
    count = len(arrangement.branches)
    sleeves, clutches = len(arrangement.sleeves), arrangement.clutches
    parts = [
        f"{counted(count, 'train')} on {counted(sleeves, 'sleeve')}, "
        f"{clutches or 'no'} one-way clutch{'es' * (clutches != 1)}, {arrangement.gears} gears."
    ]
    if arrangement.rectifier is not None:
        parts.append("One shaft turns one way whatever the motor does.")
    solved = [state for state in states if not state.passing]
    wrong = [state for state in solved if not state.right]
    locked = [state for state in states if state.locked]
    if arrangement.problems or wrong or locked:
        parts.append(
            f"Of {len(solved)} positions and ways of the motor {len(solved) - len(wrong)} do what "
            "the table says."
        )
    else:
        parts.append(
            f"Solved in all {len(solved)} positions and ways of the motor: everything does what "
            "the table says, and nothing locks, nor between two positions."
        )
    return " ".join(parts)


def end_speed(box: FunctionBox, output: OutputSpeed) -> tuple[float, str] | None:
    """Speed at an output's end, at the motor's speed: mm/s of rope or nut, or rpm; None standing.

    Signed as the output turns.
    """
    driven = box.output(output.output)
    if driven is None or not output.speed:
        return None
    rpm = float(output.speed) * box.motor_rpm
    travel, unit = travel_per_turn(driven.kind, driven.measure)
    return (rpm * travel / 60, "mm/s") if unit == "mm" else (rpm * travel, "rpm")


def describe_speed(box: FunctionBox, output: OutputSpeed) -> str:
    """Say what an output does in a state."""
    return f"{box.called(output.output)} {describe_motion(box, output)}"


def describe_motion(box: FunctionBox, output: OutputSpeed) -> str:
    """Say it without the output's name."""
    end = end_speed(box, output)
    if end is None or not output.speed:
        return "stands"
    value, unit = end
    way = "+" if value > 0 else "−"
    return f"turns {way}, {in_unit(abs(value), unit, 1)}"


def trial_list(
    box: FunctionBox, arrangement: Arrangement, states: tuple[FunctionState, ...]
) -> tuple[str, ...]:
    """List the steps of a trial on the bench, position by position."""
    if not box.positions:
        return ()
    steps = [
        "Without the motor, turn the input by hand in every position, both ways: nothing may bind. "
        "Keep fingers out of running gears."
    ]
    for position in box.positions:
        here = [s for s in states if s.position == position.name and not s.passing]
        sleeves = ", ".join(
            f"{describe_sleeve(s)} to the {face}"
            for s, face in arrangement.settings(position.name).items()
        )
        steps.append(f"Position {position.name}: {sleeves or 'all sleeves out'}.")
        for state in here:
            done = [describe_speed(box, o) for o in state.outputs if o.speed]
            still = [box.called(o.output) for o in state.outputs if not o.speed]
            sentence = "; ".join(done) or "nothing is driven"
            rest = f"; {', '.join(still)} {plural('stands', len(still), 'stand')}" if still else ""
            steps.append(f"Motor {MOTOR[state.direction]}: {sentence}{rest}.")
    for output in box.outputs:
        if output.one_way and any(b.output == output.id for b in arrangement.branches):
            steps.append(
                f"Reverse the motor slowly with {output.name} running: it must not turn back. If "
                "it stands for one way of the motor, a one-way clutch is in the wrong way round; "
                "if the input binds, both are."
            )
    if any(branch.sense for branch in arrangement.branches):
        steps.append(
            "Turn the outputs with a clutch at their end by hand: each must run free ahead of its "
            "train and catch the other way."
        )
    return tuple(steps)
