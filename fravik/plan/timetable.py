"""The schedule as a table and as a calendar."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from icalendar import Calendar, Event

from fravik.model.run import PrintRun

from .csvtext import csv_text
from .schedule import Schedule

LAST_YEAR = 9000
STAMP = datetime(2000, 1, 1)


def first_moment(run: PrintRun) -> datetime:
    """When the run starts. Raises ValueError when the first day is not a date."""
    try:
        day = date.fromisoformat(run.start_date)
    except ValueError:
        raise ValueError(f"The first day {run.start_date!r} is not a date: write it as year-month-day.") from None
    if not 1900 <= day.year <= LAST_YEAR:
        raise ValueError(f"The first day {run.start_date!r} is out of reach: choose a year from 1900 to {LAST_YEAR}.")
    return datetime(day.year, day.month, day.day) + timedelta(hours=run.start_hour)


def schedule_csv(found: Schedule, run: PrintRun) -> str:
    """One row per bar: row, what, label, start, end and hours."""
    zero = first_moment(run)
    rows: list[tuple[object, ...]] = [("row", "kind", "label", "batch", "starts", "ends", "hours", "copies")]
    for t in sorted(found.tasks, key=lambda t: (t.start_h, t.row)):
        start, end = (zero + timedelta(hours=h) for h in (t.start_h, t.end_h))
        rows.append((t.row, t.kind, t.label, t.batch_id, f"{start:%Y-%m-%d %H:%M}", f"{end:%Y-%m-%d %H:%M}",
                     round(t.end_h - t.start_h, 2), "; ".join(t.parts)))  # fmt: skip
    return csv_text(rows)


def schedule_ics(found: Schedule, run: PrintRun, craft: str) -> bytes:
    """A calendar of the run with an entry per bar and one for the deadline; local times without a zone."""
    zero = first_moment(run)
    calendar = Calendar()
    calendar.add("prodid", "-//Fravik//Print run//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"{craft}: print run")
    for i, t in enumerate(found.tasks):
        event = Event()
        event.add("uid", f"{i}-{t.kind}-{t.batch_id.replace(' ', '')}@fravik.invalid")
        event.add("dtstamp", STAMP)
        event.add("summary", f"{t.row}: {t.kind if t.kind in t.label else f'{t.kind}, {t.label}'}")
        event.add("dtstart", _whole(zero + timedelta(hours=t.start_h)))
        event.add("dtend", _whole(zero + timedelta(hours=t.end_h)))
        if t.parts:
            event.add("description", ", ".join(t.parts))
        calendar.add_component(event)
    last = Event()
    last.add("uid", "deadline@fravik.invalid")
    last.add("dtstamp", STAMP)
    last.add("summary", f"{craft}: test flight; everything must be ready")
    last.add("dtstart", _whole(zero + timedelta(hours=found.deadline_h)))
    calendar.add_component(last)
    return bytes(calendar.to_ical())


def _whole(at: datetime) -> datetime:
    return at.replace(microsecond=0, second=0)
