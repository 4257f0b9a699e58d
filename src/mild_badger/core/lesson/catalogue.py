"""All lessons, in their order."""

from mild_badger.core.lesson.course import Course
from mild_badger.core.lesson.differential import DIFFERENTIAL
from mild_badger.core.lesson.gearbox import DIRECTIONS, SHIFTERS, SKIPPING, STEPS

__all__ = ["COURSES"]

COURSES: tuple[Course, ...] = (DIFFERENTIAL, STEPS, DIRECTIONS, SHIFTERS, SKIPPING)
