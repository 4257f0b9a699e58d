"""The mechanisms there are; whoever goes through all of them asks here."""

from mild_badger.core.mechanisms.balance.mechanism import BalanceMechanism
from mild_badger.core.mechanisms.base import Mechanism
from mild_badger.core.mechanisms.bearings.mechanism import BearingsMechanism
from mild_badger.core.mechanisms.cables.mechanism import CablesMechanism
from mild_badger.core.mechanisms.clutch.mechanism import ClutchMechanism
from mild_badger.core.mechanisms.crane.mechanism import CraneMechanism
from mild_badger.core.mechanisms.display.mechanism import DisplayMechanism
from mild_badger.core.mechanisms.lever.mechanism import LeverMechanism
from mild_badger.core.mechanisms.liquid.mechanism import LiquidMechanism

__all__ = ["MECHANISMS", "mechanism_on"]

MECHANISMS: list[Mechanism] = [
    ClutchMechanism(),
    LiquidMechanism(),
    DisplayMechanism(),
    LeverMechanism(),
    CablesMechanism(),
    CraneMechanism(),
    BalanceMechanism(),
    BearingsMechanism(),
]
"""In the order in which they are tried and written down."""


def mechanism_on(page: str) -> Mechanism:
    """Give the mechanism that a page of the window shows."""
    return next(mechanism for mechanism in MECHANISMS if mechanism.page.key == page)
