"""Everything known of a vehicle's function box, for screens, findings and the command line."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.functions.arrange import Arrangement, arrange
from mild_badger.core.functions.describe import describe_arrangement, trial_list
from mild_badger.core.functions.letters import function_letters
from mild_badger.core.functions.prove import FunctionState, output_body, prove_functions
from mild_badger.core.ids import OutputId
from mild_badger.core.message import say
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["FunctionResult", "function_findings", "function_result"]


@dataclass(frozen=True)
class FunctionResult:
    """The arrangement of a function box, and what it was proven to do."""

    box: FunctionBox
    arrangement: Arrangement
    states: tuple[FunctionState, ...]
    words: str
    trials: tuple[str, ...]
    letters: Mapping[str, str] = field(default_factory=dict)
    """Letters of the shafts by their bodies: `feed.input`, `feed.one-way`, `output …`."""

    def letter(self, body: str) -> str:
        """Give a shaft's letter, "" for what has none."""
        return self.letters.get(body, "")

    def output_letter(self, output: OutputId) -> str:
        """Give the letter of an output's shaft."""
        return self.letter(output_body(output))

    def state(self, position: str, direction: int) -> FunctionState | None:
        """Find what a position does with the motor turning one way."""
        return next(
            (
                s
                for s in self.states
                if (s.position, s.direction, s.passing) == (position, direction, False)
            ),
            None,
        )


def function_result(vehicle: Vehicle) -> FunctionResult | None:
    """Arrange and prove a vehicle's function box; None where it has none."""
    box = vehicle.functions
    if box is None:
        return None
    arrangement = arrange(vehicle, box)
    return replace(_proven(box, arrangement), letters=function_letters(vehicle, arrangement))


@lru_cache(maxsize=16)
def _proven(box: FunctionBox, arrangement: Arrangement) -> FunctionResult:
    states = prove_functions(box, arrangement)
    return FunctionResult(
        box,
        arrangement,
        states,
        describe_arrangement(box, arrangement, states),
        trial_list(box, arrangement, states) if arrangement.branches else (),
    )


def function_findings(result: FunctionResult | None) -> Iterator[Finding]:
    """Say what of a table cannot be, and what would lock."""
    if result is None:
        return
    for problem in result.arrangement.problems:
        yield Finding(
            Severity.ERROR,
            "function-impossible",
            ("functions",),
            say("functions.the-function-box-cannot-do-everything-in-the"),
            problem,
        )
    for state in result.states:
        if state.locked:
            way = say("functions.forwards") if state.direction > 0 else say("functions.backwards")
            yield Finding(
                Severity.ERROR,
                "function-locks",
                ("functions",),
                say("functions.the-function-box-locks-in", position=state.position),
                say("functions.with-the-motor-turning-two-trains-ask-for", way=way),
            )
