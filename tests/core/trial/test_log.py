"""The log: found again, written out and read back by libraries that know nothing of us."""

import csv
import io

import pytest

from examples import example_vehicle
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.errors import InputError
from mild_badger.core.ids import VersionId
from mild_badger.core.trial.log import (
    add_entry,
    change_entry,
    due,
    entries,
    log_csv,
    log_markdown,
    logged_parts,
    parse_day,
    part_name,
    reach,
    remove_entry,
    watch_wear,
    worn_renewed,
)
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.gears import rename_gear
from mild_badger.core.vehicle.log import LogEntry, WearItem
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses, tells

ENTRIES = (
    LogEntry(
        date="2026-03-02",
        part="Gear 3, driver",
        changed="16 put in for 12",
        why="third was too low",
        ran_hours=2.5,
    ),
    LogEntry(
        date="2026-03-09",
        version="waxed",
        seen="clicks under load, *loud*\nsecond line",
        photo="pictures/box-3.jpg",
        ran_hours=1.5,
    ),
    LogEntry(date="2026-02-01", version="waxed", part="Tie gear 1", seen='quiet, "so far"'),
)


@pytest.fixture
def kept() -> Vehicle:
    vehicle = example_vehicle()
    for entry in ENTRIES:
        vehicle = apply_edit(vehicle, add_entry(vehicle, entry))
    return vehicle


def test_entries_are_found_by_words_part_and_version_newest_first(kept: Vehicle) -> None:
    assert [n for n, _ in entries(kept)] == [1, 0, 2]
    assert [n for n, _ in entries(kept, text="LOUD load")] == [1]
    assert [n for n, _ in entries(kept, part="Tie gear 1")] == [2]
    assert [n for n, _ in entries(kept, version=VersionId("waxed"))] == [1, 2]
    assert [n for n, _ in entries(kept, version=VersionId(""))] == [0]
    assert entries(kept, text="nothing of the kind") == ()
    assert logged_parts(kept)[:2] == ("Gear 3, driver", "Tie gear 1")


def test_the_csv_is_read_back_by_the_standard_library(kept: Vehicle) -> None:
    rows = list(csv.DictReader(io.StringIO(log_csv(kept, (e for _, e in entries(kept))))))
    assert [row["date"] for row in rows] == ["2026-03-09", "2026-03-02", "2026-02-01"]
    assert rows[0]["seen"] == "clicks under load, *loud*\nsecond line"
    assert rows[2]["seen"] == 'quiet, "so far"'


def test_markdown_has_every_entry_and_no_stray_marks(kept: Vehicle) -> None:
    staged = apply_edit(kept, reach(kept, "box tried", "2026-03-01"))
    text = log_markdown(staged, (e for _, e in entries(staged)))
    assert tells(text.splitlines()[0], "trial.log-of", plain="Larkholm Vale mail bus")
    assert "- 2026-03-01 box tried" in text
    assert r"clicks under load, \*loud\* second line" in text
    assert text.count("### ") == 3
    assert tells(text, "trial.h-run-in-all", hours="4")


def test_wear_counts_from_when_it_was_last_done(kept: Vehicle) -> None:
    watched = apply_edit(kept, watch_wear(kept, WearItem(part="Tie gear 1", every_hours=2)))
    assert [d.now for d in due(watched)] == [False]
    more = apply_edit(
        watched, add_entry(watched, LogEntry(date="2026-04-01", seen="ran", ran_hours=2))
    )
    assert due(more)[0].now
    assert tells(due(more)[0].summary, "trial.due-of-h-have-run", since_hours="2", every_hours="2")
    done = apply_edit(more, worn_renewed(more, "Tie gear 1"))
    assert not due(done)[0].now
    assert due(apply_edit(done, worn_renewed(done, "Tie gear 1", watched=False))) == ()


def test_entries_are_changed_and_taken_out(kept: Vehicle) -> None:
    changed = apply_edit(kept, change_entry(kept, 2, ENTRIES[2].model_copy(update={"seen": "no"})))
    assert changed.log.entries[2].seen == "no"
    assert len(apply_edit(changed, remove_entry(changed, 0)).log.entries) == 2


@pytest.mark.parametrize("day", ["2026-02-30", "yesterday", "17.5.2026", ""])
def test_days_that_are_none_are_refused(day: str) -> None:
    with refuses(InputError, "trial.is-no-day-write-it-as-2026-05-17"):
        parse_day(day)


def test_an_empty_entry_is_refused(kept: Vehicle) -> None:
    with refuses(InputError, "trial.say-what-was-changed-why-or-what-was-seen"):
        add_entry(kept, LogEntry(date="2026-03-02"))


def test_what_an_entry_is_tied_to_stays_when_its_name_changes() -> None:
    bus = example_vehicle()
    name = next(body.name for body in assemble(bus).bodies if body.id == "gear 3/0.driver")
    entry = LogEntry(date="2026-03-01", part=name, seen="worn")
    tied = apply_edit(bus, add_entry(bus, entry))
    tied = apply_edit(tied, watch_wear(tied, WearItem(part=name, every_hours=2.0)))
    tied = apply_edit(tied, add_entry(tied, LogEntry(date="2026-03-02", part="my jig", seen="x")))
    assert [e.part for e in tied.log.entries] == ["gear 3/0.driver", "my jig"]
    renamed = apply_edit(tied, rename_gear(tied, "3", "third"))
    assert "third" in part_name(renamed, renamed.log.entries[0].part)
    assert [n for n, _ in entries(renamed, text="third")] == [0]
    assert [n for n, _ in entries(renamed, part="gear 3/0.driver")] == [0]
    assert "third" in due(renamed)[0].summary
    assert part_name(renamed, "my jig") == "my jig"
    old = tied.model_copy(
        update={"log": tied.log.model_copy(update={"entries": (entry,)})}
    )  # as older files have it, by its name
    assert [n for n, _ in entries(old, part="gear 3/0.driver")] == [0]
