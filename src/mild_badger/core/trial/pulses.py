"""Reading a tachometer: a line of text for each slot that passes, ``timestamp_us,channel``.

Channel 1 is the input's disc, channel 2 the output's. Lines that begin with # and empty lines say
nothing. Everything else that is no pulse is refused line by line and counted; nothing is guessed.
"""

from dataclasses import dataclass, field

from mild_badger.core.message import say, say_count

__all__ = ["CHANNELS", "PulseReader", "Refusal"]

CHANNELS = (1, 2)
WRAP_US = 1 << 32
"""A clock of 32 bits begins anew after so many microseconds, about 71.6 minutes."""
WRAP_WITHIN_US = 60_000_000
LONGEST_LINE = 80
KEPT_REFUSALS = 50
MOST_PULSES = 500_000
"""So many pulses a channel are kept; the oldest go first."""


@dataclass(frozen=True)
class Refusal:
    """A line that is no pulse: its number from 1, how it begins, and why it was refused."""

    line: int
    text: str
    why: str


@dataclass
class PulseReader:
    """Takes text as it comes, in pieces of any size, and keeps the pulses of each channel.

    Attributes
    ----------
    times_us : channel → rising time stamps in µs
    lines, pulses, refused, backward : counts; backward stamps are among the refused
    refusals : the first refused lines
    """

    times_us: dict[int, list[int]] = field(default_factory=lambda: {c: [] for c in CHANNELS})
    lines: int = 0
    pulses: int = 0
    refused: int = 0
    backward: int = 0
    refusals: list[Refusal] = field(default_factory=list)
    _rest: str = ""
    _skipping: bool = False
    _last_us: int | None = None
    _turns_of_clock: int = 0

    def feed(self, text: str) -> None:
        """Take some more text; a line that is not ended yet waits for the rest."""
        text = self._rest + text.replace("\r\n", "\n").replace("\r", "\n")
        *whole, self._rest = text.split("\n")
        for line in whole:
            if self._skipping:
                self._skipping = False
                continue
            self._line(line)
        if len(self._rest) > LONGEST_LINE:
            if not self._skipping:
                self._line(self._rest)
            self._skipping, self._rest = True, ""

    def close(self) -> None:
        """Take the last line too, though nothing ended it."""
        if self._rest and not self._skipping:
            self._line(self._rest)
        self._rest, self._skipping = "", False

    @property
    def summary(self) -> str:
        """Say what was read and what was refused, with counts."""
        counts = ", ".join(
            say("trial.on-channel", count_of_t=len(t), c=c) for c, t in self.times_us.items()
        )
        lines = say_count("count.line", self.lines)
        sentence = f"{lines}: {counts}"
        if not self.refused:
            return say("trial.none-refused", sentence=sentence)
        back = (
            say("trial.of-them-with-a-time-before-the-last", backward=self.backward)
            if self.backward
            else ""
        )
        first = self.refusals[0]
        return say(
            "trial.refused-the-first-is-line",
            sentence=sentence,
            refused=self.refused,
            back=back,
            line=first.line,
            text=first.text,
            why=first.why,
        )

    def _line(self, line: str) -> None:
        self.lines += 1
        text = line.strip().lstrip("\ufeff")
        if not text or text.startswith("#"):
            return
        why = self._pulse(text)
        if why:
            self.refused += 1
            if len(self.refusals) < KEPT_REFUSALS:
                self.refusals.append(Refusal(self.lines, text[:40], why))

    def _pulse(self, text: str) -> str:
        """Take one pulse; give why it cannot be taken, or nothing."""
        if len(text) > LONGEST_LINE:
            return say("trial.longer-than-characters", longest_line=LONGEST_LINE)
        cells = [cell.strip() for cell in text.replace(";", ",").split(",")]
        if len(cells) != 2:
            return say("trial.not-a-time-in-s-a-comma-and-a-channel")
        stamp, channel = cells
        if not (stamp.isascii() and stamp.isdigit()) or len(stamp) > 18:
            return say("trial.the-time-is-no-whole-number-of-s")
        if not (channel.isascii() and channel.isdigit()) or int(channel[:9]) not in CHANNELS:
            return say("trial.the-channel-is-neither-1-nor-2")
        us = int(stamp) + self._turns_of_clock * WRAP_US
        if self._last_us is not None and us < self._last_us:
            if not self._wraps(int(stamp), us):
                self.backward += 1
                return say("trial.its-time-lies-before-that-of-the-line-above")
            self._turns_of_clock += 1
            us += WRAP_US
        self._last_us = us
        times = self.times_us[int(channel)]
        times.append(us)
        if len(times) > MOST_PULSES:
            del times[: len(times) - MOST_PULSES]
        self.pulses += 1
        return ""

    def _wraps(self, stamp: int, us: int) -> bool:
        """Whether the clock ran over: the last stamp near its end, this one near its beginning."""
        last = (self._last_us or 0) - self._turns_of_clock * WRAP_US
        return us < (self._last_us or 0) and (
            last > WRAP_US - WRAP_WITHIN_US and stamp < WRAP_WITHIN_US and last < WRAP_US
        )
