"""What a function box comes to in words, and the list of trials a builder runs on it."""

from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.figures import in_unit
from mild_badger.core.functions.arrange import Arrangement
from mild_badger.core.functions.prove import FunctionState, OutputSpeed
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.sleeves import describe_sleeve

__all__ = ["describe_arrangement", "describe_motion", "describe_speed", "end_speed", "trial_list"]

MOTOR = {1: say("functions.forwards"), -1: say("functions.backwards")}


def describe_arrangement(
    box: FunctionBox, arrangement: Arrangement, states: tuple[FunctionState, ...]
) -> str:
    """Say what is to be built and what was proven; of a table that asks for nothing, nothing."""
    if not arrangement.branches and not arrangement.problems:
        return say("functions.nothing-is-asked-for-yet")
    count = len(arrangement.branches)
    sleeves, clutches = len(arrangement.sleeves), arrangement.clutches
    parts = [
        say(
            "functions.on-one-way-clutch-gears",
            train=say_count("count.train", count),
            sleeve=say_count("count.sleeve", sleeves),
            clutches=say_count("count.one-way-clutch", clutches),
            gears=arrangement.gears,
        )
    ]
    if arrangement.rectifier is not None:
        parts.append(say("functions.one-shaft-turns-one-way-whatever-the-motor"))
    solved = [state for state in states if not state.passing]
    wrong = [state for state in solved if not state.right]
    locked = [state for state in states if state.locked]
    if arrangement.problems or wrong or locked:
        parts.append(
            say(
                "functions.of-positions-and-ways-of-the-motor-do-what",
                count_of_solved=len(solved),
                count_of_solved_2=len(solved) - len(wrong),
            )
        )
    else:
        parts.append(
            say("functions.solved-in-all-positions-and-ways-of-the", count_of_solved=len(solved))
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
        return say("functions.stands")
    value, unit = end
    way = "+" if value > 0 else "−"
    return say("functions.turns", way=way, value=in_unit(abs(value), unit, 1))


def trial_list(
    box: FunctionBox, arrangement: Arrangement, states: tuple[FunctionState, ...]
) -> tuple[str, ...]:
    """List the steps of a trial on the bench, position by position."""
    if not box.positions:
        return ()
    steps = [say("functions.without-the-motor-turn-the-input-by-hand-in")]
    for position in box.positions:
        here = [s for s in states if s.position == position.name and not s.passing]
        sleeves = ", ".join(
            say("functions.to-the", sleeve=describe_sleeve(s), face=face)
            for s, face in arrangement.settings(position.name).items()
        )
        steps.append(
            say(
                "functions.position",
                name=position.name,
                sleeves=sleeves or say("functions.all-sleeves-out"),
            )
        )
        for state in here:
            done = [describe_speed(box, o) for o in state.outputs if o.speed]
            still = [box.called(o.output) for o in state.outputs if not o.speed]
            sentence = "; ".join(done) or say("functions.nothing-is-driven")
            stands = say_count("noun.stands", len(still))
            rest = f"; {', '.join(still)} {stands}" if still else ""
            steps.append(
                say("functions.motor", motor=MOTOR[state.direction], sentence=sentence, rest=rest)
            )
    for output in box.outputs:
        if output.one_way and any(b.output == output.id for b in arrangement.branches):
            steps.append(
                say("functions.reverse-the-motor-slowly-with-running-it", name=output.name)
            )
    if any(branch.sense for branch in arrangement.branches):
        steps.append(say("functions.turn-the-outputs-with-a-clutch-at-their-end"))
    return tuple(steps)
