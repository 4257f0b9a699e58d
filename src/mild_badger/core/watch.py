"""How a long search is watched: progress, the best so far, and a way to stop it."""

from collections.abc import Callable
from dataclasses import dataclass

__all__ = ["UNWATCHED", "SearchStopped", "Watch"]


class SearchStopped(Exception):  # noqa: N818 - not an error: somebody asked for it
    """Raised inside a search that was told to stop."""


@dataclass(frozen=True)
class Watch:
    """What a search calls as it goes.

    Parameters
    ----------
    stop
        Asked at every tick; True ends the search with SearchStopped.
    report
        Told the share done, 0 to 1, and the best found so far, None while there is none.
    """

    stop: Callable[[], bool] = lambda: False
    report: Callable[[float, object], None] = lambda _share, _best: None

    def tick(self, share: float, best: object = None) -> None:
        """Report, and end the search where that is wanted.

        Raises
        ------
        SearchStopped
            The search was told to stop.
        """
        self.report(share, best)
        if self.stop():
            raise SearchStopped

    def part(self, start: float, end: float) -> "Watch":
        """Give a watch for one part of a job, whose share goes from start to end of the whole."""
        return Watch(
            self.stop, lambda share, best: self.report(start + (end - start) * share, best)
        )


UNWATCHED = Watch()
