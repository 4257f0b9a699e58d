"""From pulses to a reading, and readings beside the plan."""

from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.message import say
from mild_badger.core.trial.compare import deviations
from mild_badger.core.trial.expected import expected
from mild_badger.core.trial.record_reading import take_reading
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from telling import tells

BODY = "selector.1"


def pulses(input_turns: float, output_turns: float, *, slots: int = 6, rpm: float = 120) -> str:
    """Pulses of two discs that turn evenly, as the logger writes them: microseconds, disc."""
    end = input_turns / rpm * 60e6
    events = []
    for channel, turns in ((1, input_turns), (2, output_turns)):
        count = int(turns * slots)
        events += [(round((n + 0.5) * end / turns / slots), channel) for n in range(count)]
    return "".join(f"{time},{channel}\n" for time, channel in sorted(events))


def test_even_pulses_give_the_ratio_they_were_made_with() -> None:
    reading, reader, taken = take_reading(pulses(40, 10), "3", BODY, slots_in=6, slots_out=6)
    assert reading is not None
    assert len(reader.times_us[1]) == 240
    assert reading.turns == pytest.approx(0.25, rel=1e-3)
    assert reading.input_rpm == pytest.approx(120, rel=1e-3)
    assert (reading.position, reading.body, reading.source) == ("3", BODY, "tachometer")
    assert taken.reading("3", BODY, -7).way == -1  # type: ignore[union-attr]
    assert taken.reading("3", BODY, 2).way == 1  # type: ignore[union-attr]
    assert taken.input_rpm == reading.input_rpm
    assert all("rpm" in words for words in taken.live)
    assert "4" in taken.summary


@pytest.mark.parametrize(
    ("turns", "words", "stands"),
    [
        ((0.0, 0.0), "No pulses", False),
        ((0.5, 0.0), "Only 3 pulses of the input", False),
        ((2.5, 0.0), "No pulse of the output yet", False),
        ((20.0, 0.0), "it stands", True),
        ((20.0, 0.4), "Only 2 pulses of the output", False),
    ],
)
def test_what_is_wanting_is_said(turns: tuple[float, float], words: str, stands: bool) -> None:
    text = pulses(max(turns[0], 1e-6), max(turns[1], 1e-6))
    reading, _, taken = take_reading(text, "2", BODY, slots_in=6, slots_out=6)
    assert words in taken.summary
    assert (reading is not None) == stands
    if reading is not None:
        assert reading.turns == 0
        assert reading.spread == pytest.approx(1 / 6 / 20, rel=0.02)
    assert taken.live[1] in ("no pulse", "2 pulses")


def noted(*readings: dict[str, object]) -> Vehicle:
    return apply_edit(example_vehicle(), Edit.one("", ("trial", "readings"), list(readings)))


def test_readings_are_set_beside_the_plan() -> None:
    planned = expected(example_vehicle(), "3", BODY)
    assert isinstance(planned, Fraction)
    turns, way = abs(float(planned)), 1 if planned > 0 else -1
    near = {"position": "3", "body": BODY, "way": way, "spread": turns * 0.02}
    vehicle = noted(
        near | {"turns": turns * 1.01},
        near | {"turns": turns * 1.5},
        near | {"turns": turns, "way": -way},
        {"position": "3", "body": BODY, "jams": True},
        {"position": "3", "body": BODY},
        {"position": "3", "body": "no such body", "turns": 1.0},
    )
    good, bad, wrong, jams, stands, lost = deviations(vehicle)
    assert good.percent == pytest.approx(1.0)
    assert good.spread_percent == pytest.approx(2.0)
    assert (good.agrees, good.mark) == (True, "+1.00 %")
    assert (bad.agrees, bad.mark) == (False, "+50.00 %")
    assert tells(wrong.mark, "trial.wrong-way", sentence="+0.00 %")
    assert (jams.mark, jams.percent) == ("jams", None)
    assert (stands.mark, stands.agrees) == ("stands", False)
    assert (lost.mark, lost.agrees, lost.place) == (
        say("trial.no-such-place"),
        None,
        "no such body",
    )
    low = deviations(noted(near | {"turns": turns * 0.9}))[0]
    assert low.mark == "−10.00 %"
