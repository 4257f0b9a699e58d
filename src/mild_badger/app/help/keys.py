"""The keys of the window, as they are told."""

from mild_badger.core.message import say

__all__ = ["KEYS_HELP"]

KEYS_HELP = say("help.1-to-9-engage-a-gear-0-neutral-r-reverse-and")
