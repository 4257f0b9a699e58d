"""From a tachometer's pulses to a reading of the trial, or to what is wanting for one."""

from collections.abc import Sequence

from mild_badger.core.message import say
from mild_badger.core.trial.expected import with_spread
from mild_badger.core.trial.pulses import PulseReader
from mild_badger.core.trial.speed import RatioFigure, Turning, ratio_of, speed_of, turning_of
from mild_badger.core.vehicle.trial import Reading
from mild_badger.core.words import capitalized

__all__ = ["Measurement", "take_reading"]

STANDS_TURNS = 3.0
"""The output stands when the input made so many turns without a pulse of the other disc."""


class Measurement:
    """What pulses come to: live speeds in words, and a reading where there is enough for one."""

    def __init__(self, reader: PulseReader, *, slots_in: int, slots_out: int) -> None:
        times = reader.times_us
        self.pulses = (len(times[1]), len(times[2]))
        self.slots = (slots_in, slots_out)
        self.source = turning_of(times[1], slots_in)
        self.output = turning_of(times[2], slots_out)
        self.ratio: RatioFigure | None = None
        if self.source is not None and self.output is not None:
            self.ratio = ratio_of(self.source, self.output)

    @property
    def input_rpm(self) -> float | None:
        """The input's mean speed."""
        return _rpm(self.source)

    @property
    def live(self) -> tuple[str, str]:
        """Say how fast input and output run just now, with the uncertainty."""
        return _live(self.source, self.pulses[0]), _live(self.output, self.pulses[1])

    @property
    def summary(self) -> str:
        """Say what the ratio is, or what is wanting, and what was odd about the pulses."""
        odd = [
            f"{name}: {turning.summary}"
            for name, turning in (("input", self.source), ("output", self.output))
            if turning is not None and turning.summary
        ]
        sentence = self._describe_ratio()
        return " ".join([sentence, *(f"{capitalized(words)}." for words in odd)])

    def _describe_ratio(self) -> str:
        if self.ratio is not None:
            turns, spread = self.ratio.turns, self.ratio.spread
            percent = 100 * spread / turns
            if spread > turns:
                return say("trial.the-output-has-made-too-few-turns-for-a")
            return say(
                "trial.the-output-turns-for-one-of-the-input-95",
                with_spread=with_spread(turns, spread),
                percent=percent,
                blocks=self.ratio.blocks,
                turns=1 / turns,
            )
        if self.source is None:
            return (
                say("trial.no-pulses-of-the-input-yet")
                if not self.pulses[0]
                else say("trial.only-pulses-of-the-input-let-it-make-at", pulses=self.pulses[0])
            )
        if not self.pulses[1]:
            return (
                say("trial.the-input-made-turns-and-the-output-none-it", turns=self.source.turns)
                if self.source.turns >= STANDS_TURNS
                else say("trial.no-pulse-of-the-output-yet-run-a-little")
            )
        return say("trial.only-pulses-of-the-output-run-it-until-its", pulses=self.pulses[1])

    def reading(self, position: str, body: str, way: int) -> Reading | None:
        """Make the reading; None while there is not enough for one."""
        if self.source is not None and not self.pulses[1] and self.source.turns >= STANDS_TURNS:
            return Reading(
                position=position,
                body=body,
                source="tachometer",
                input_rpm=self.input_rpm,
                spread=1 / self.slots[1] / self.source.turns,
            )
        if self.ratio is None or self.ratio.spread > self.ratio.turns:
            return None
        return Reading(
            position=position,
            body=body,
            source="tachometer",
            input_rpm=self.input_rpm,
            turns=self.ratio.turns,
            spread=self.ratio.spread,
            uneven=self.ratio.unevenness,
            way=1 if way > 0 else -1 if way < 0 else 0,
        )


def take_reading(
    text: str | Sequence[str], position: str, body: str, *, slots_in: int, slots_out: int
) -> tuple[Reading | None, PulseReader, Measurement]:
    """Read a whole file of pulses; give the reading, what was read, and what it came to."""
    reader = PulseReader()
    reader.feed(text if isinstance(text, str) else "\n".join(text) + "\n")
    reader.close()
    taken = Measurement(reader, slots_in=slots_in, slots_out=slots_out)
    return taken.reading(position, body, 0), reader, taken


def _rpm(turning: Turning | None) -> float | None:
    figure = speed_of(turning) if turning is not None else None
    return figure.rpm if figure is not None else None


def _live(turning: Turning | None, pulses: int) -> str:
    figure = speed_of(turning, last_turns=6) if turning is not None else None
    if figure is None:
        return say("trial.no-pulse") if not pulses else say("trial.pulses", pulses=pulses)
    return say("trial.rpm", with_spread=with_spread(figure.rpm, figure.spread_rpm))
