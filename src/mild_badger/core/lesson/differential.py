"""How a differential works, in twelve steps (domain: a fair share that goes round for ever)."""

from mild_badger.core.lesson.course import Course
from mild_badger.core.lesson.linkages import LINKAGES
from mild_badger.core.lesson.planets import PLANETS
from mild_badger.core.message import say

__all__ = ["DIFFERENTIAL"]

DIFFERENTIAL = Course("differential", say("lesson.how-a-differential-works"), (*LINKAGES, *PLANETS))
