"""A plan as a calendar file (RFC 5545), for whatever calendar a person carries."""

from datetime import datetime, timedelta

from vadum.records.tables import WorkPlan

_LEAST_MIN = 5.0


def calendar_of(plan: WorkPlan) -> bytes:
    """Return an entry for each operation of a plan, with its hands' time, in UTC."""
    from icalendar import Calendar, Event  # takes longer to load than a server to start

    calendar = Calendar()
    calendar.add("prodid", "-//Vadum//plan//EN")
    calendar.add("version", "2.0")
    for line in plan.lines:
        begins = datetime.fromisoformat(line["at"])
        event = Event()
        event.add("uid", f"{line['id']}@vadum")
        event.add("dtstamp", plan.kept_at)
        event.add("dtstart", begins)
        event.add("dtend", begins + timedelta(minutes=max(_LEAST_MIN, line["hands"])))
        event.add("summary", f"{line['label']}: {line['what']}")
        calendar.add_component(event)
    found: bytes = calendar.to_ical()
    return found
