"""What wears at a clutch."""

from mild_badger.core.vehicle.log import WearItem

__all__ = ["LINING_WEAR"]


LINING_WEAR = WearItem(part="clutch lining", every_hours=5.0, what="measure and renew")
"""What the log can remind of; the hours are an estimate until the builder says otherwise."""
