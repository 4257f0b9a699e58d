"""What a friction clutch holds, new and worn, and what it takes to release it.

T = n μ W r with r = (ro + ri)/2 at uniform wear and ⅔ (ro³ − ri³)/(ro² − ri²) at uniform pressure
(Shigley, *Mechanical Engineering Design*, 16-5): a lining that is run in holds as the first says, a
new and stiff one as the second. Plan by the first, it is the smaller.
"""

from dataclasses import dataclass
from math import ceil, pi

from mild_badger.core.mechanisms.clutch.model import Clutch, Lining

__all__ = [
    "LININGS",
    "STANDS",
    "ClutchFigures",
    "clutch_figures",
    "friction",
    "holding",
    "lining_limit",
]

LININGS: dict[Lining, float] = {
    "cork": 0.35,
    "leather": 0.40,
    "felt": 0.22,
    "wood": 0.25,
    "rubber": 0.60,
}
"""μ dry on smooth metal or plastic, about the middle of what handbooks list (from memory)."""
STANDS: dict[Lining, float] = {
    "cork": 0.095,
    "leather": 0.28,
    "felt": 0.07,
    "wood": 0.62,
    "rubber": 0.3,
}
"""Greatest pressure, N/mm²: Shigley's table of friction materials, dry on steel or cast iron (from
memory); of rubber common practice, no source."""
WIDER = (1.0, 1.25, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0)
"""By how much a ring grows at most, step by step, until it holds."""
MOST_FACES, MOST_SPRING_N, MOST_RING_MM = 12, 100_000.0, 1000.0
"""No proposal goes beyond these, which a document holds too."""


@dataclass(frozen=True)
class ClutchFigures:
    """Torques N·mm, forces N, travels mm.

    ``wear`` and ``pressure`` are the new clutch's capacity by both theories, ``worn`` the first
    after all the wear that is allowed. ``lift`` is the plates' travel to release; worn linings
    take the springs' force and the play of the lever along. ``pressure_n_mm2`` is the greatest
    pressure on the lining at uniform wear, at its inner edge.
    """

    mu: float
    wear: float
    pressure: float
    worn: float
    pressure_n_mm2: float
    lift: float
    release_n: float
    pedal_n: float
    pedal_needed: float
    pedal_left: float

    def margin(self, torque_n_mm: float) -> float:
        """Give the capacity, new and run in, over a torque; infinite where there is none."""
        return self.wear / torque_n_mm if torque_n_mm else float("inf")


def friction(clutch: Clutch) -> float:
    """Give the coefficient of friction that counts."""
    return clutch.own_mu if clutch.lining == "own" else LININGS[clutch.lining]


def lining_limit(clutch: Clutch) -> float | None:
    """Give the pressure that the lining stands, N/mm²; None for one's own without a figure."""
    return clutch.limit_mpa or STANDS.get(clutch.lining)


def holding(clutch: Clutch, torque_n_mm: float) -> Clutch | None:
    """Give the clutch with the spring, faces and ring that hold a torque, worn; None for none.

    The lining stands the pressure and the lever has travel enough; the ring grows last.
    """
    most, step = lining_limit(clutch), 1 if clutch.faces % 2 else 2
    for wider in WIDER:
        ring = {"inner_mm": clutch.inner_mm * wider, "outer_mm": clutch.outer_mm * wider}
        for faces in range(clutch.faces, max(MOST_FACES, clutch.faces) + 1, step):
            tried = clutch.model_copy(update=ring | {"faces": faces})
            found = clutch_figures(tried)
            press = torque_n_mm * tried.spring_n / found.wear if found.wear else MOST_SPRING_N
            spring = max(ceil(10 * (press + tried.spring_n_per_mm * tried.wear_mm)) / 10, 0.1)
            if spring > MOST_SPRING_N or max(ring.values()) > MOST_RING_MM:
                continue
            tried = tried.model_copy(update={"spring_n": spring})
            found = clutch_figures(tried)
            if found.pedal_left >= 0 and (most is None or found.pressure_n_mm2 <= most):
                return tried
    return None


def clutch_figures(clutch: Clutch) -> ClutchFigures:
    """Work a clutch out."""
    mu = friction(clutch)
    inner, outer = sorted((clutch.inner_mm / 2, clutch.outer_mm / 2))
    by_wear = (outer + inner) / 2
    by_pressure = 2 / 3 * (outer**3 - inner**3) / (outer**2 - inner**2)
    hold = clutch.faces * mu
    worn_n = max(clutch.spring_n - clutch.spring_n_per_mm * clutch.wear_mm, 0.0)
    lift = clutch.faces * clutch.gap_mm
    release = clutch.spring_n + clutch.spring_n_per_mm * lift
    needed = lift * clutch.lever_ratio + clutch.free_mm
    return ClutchFigures(
        mu=mu,
        wear=hold * clutch.spring_n * by_wear,
        pressure=hold * clutch.spring_n * by_pressure,
        worn=hold * worn_n * by_wear,
        pressure_n_mm2=clutch.spring_n / (2 * pi * inner * (outer - inner)),
        lift=lift,
        release_n=release,
        pedal_n=release / clutch.lever_ratio,
        pedal_needed=needed,
        pedal_left=clutch.pedal_mm - needed,
    )
