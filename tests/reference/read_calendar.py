"""Days of a calendar as another reader has them (python3-icalendar), a line each."""
import sys

import icalendar

with open(sys.argv[1], "rb") as file:
    calendar = icalendar.Calendar.from_ical(file.read())
seen = set()
for event in calendar.walk("vevent"):
    assert event["uid"] not in seen, "the same name twice"
    seen.add(event["uid"])
    assert (event["dtend"].dt - event["dtstart"].dt).days == 1
    assert event["summary"]
    print(event["dtstart"].dt.isoformat())
