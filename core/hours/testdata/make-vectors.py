# Makes easter.json and recurrences.json with python-dateutil (a reference, not shipped):
#   python3 core/hours/testdata/make-vectors.py
# RFC 5545 examples (3.8.5.3) are from memory; the dates are dateutil's.
import json, os
from datetime import datetime, timedelta
from dateutil import __version__, easter
from dateutil.rrule import rrulestr

here = os.path.dirname(os.path.abspath(__file__))
with open(os.path.join(here, "easter.json"), "w") as f:
    json.dump({"madeWith": f"dateutil {__version__}", "days": {y: easter.easter(y).isoformat() for y in range(1900, 2200)}}, f, indent=0)

rules = [
    # RFC 5545, 3.8.5.3, from memory
    ("1997-09-02", "FREQ=DAILY;COUNT=10"), ("1997-09-02", "FREQ=DAILY;UNTIL=19971224"), ("1997-09-02", "FREQ=DAILY;INTERVAL=2"),
    ("1997-09-02", "FREQ=DAILY;INTERVAL=10;COUNT=5"), ("1998-01-01", "FREQ=YEARLY;UNTIL=20000131;BYMONTH=1;BYDAY=SU,MO,TU,WE,TH,FR,SA"),
    ("1998-01-01", "FREQ=DAILY;UNTIL=20000131;BYMONTH=1"), ("1997-09-02", "FREQ=WEEKLY;COUNT=10"), ("1997-09-02", "FREQ=WEEKLY;UNTIL=19971224"),
    ("1997-09-02", "FREQ=WEEKLY;INTERVAL=2;WKST=SU"), ("1997-09-02", "FREQ=WEEKLY;UNTIL=19971007;WKST=SU;BYDAY=TU,TH"),
    ("1997-09-01", "FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224;WKST=SU;BYDAY=MO,WE,FR"), ("1997-09-02", "FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH"),
    ("1997-09-05", "FREQ=MONTHLY;COUNT=10;BYDAY=1FR"), ("1997-09-05", "FREQ=MONTHLY;UNTIL=19971224;BYDAY=1FR"),
    ("1997-09-07", "FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU"), ("1997-09-22", "FREQ=MONTHLY;COUNT=6;BYDAY=-2MO"), ("1997-09-28", "FREQ=MONTHLY;BYMONTHDAY=-3"),
    ("1997-09-02", "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15"), ("1997-09-30", "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=1,-1"),
    ("1997-09-10", "FREQ=MONTHLY;INTERVAL=18;COUNT=10;BYMONTHDAY=10,11,12,13,14,15"), ("1997-09-02", "FREQ=MONTHLY;INTERVAL=2;BYDAY=TU"),
    ("1997-06-10", "FREQ=YEARLY;COUNT=10;BYMONTH=6,7"), ("1997-03-10", "FREQ=YEARLY;INTERVAL=2;COUNT=10;BYMONTH=1,2,3"), ("1997-05-19", "FREQ=YEARLY;BYDAY=20MO"),
    ("1997-03-13", "FREQ=YEARLY;BYMONTH=3;BYDAY=TH"), ("1997-06-05", "FREQ=YEARLY;BYDAY=TH;BYMONTH=6,7,8"), ("1997-09-02", "FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13"),
    ("1997-09-13", "FREQ=MONTHLY;BYDAY=SA;BYMONTHDAY=7,8,9,10,11,12,13"), ("1996-11-05", "FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8"),
    ("1997-09-04", "FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3"), ("1997-09-29", "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2"),
    ("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO"), ("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU"),
    ("2007-01-15", "FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5"),
    # Ours: what dated changes use, and the ends of months and leap years
    ("2026-11-27", "FREQ=MONTHLY;BYDAY=-1FR"), ("2026-01-31", "FREQ=MONTHLY"), ("2024-02-29", "FREQ=YEARLY"), ("2026-12-07", "FREQ=WEEKLY;BYDAY=MO,WE;COUNT=6"),
    ("2026-01-01", "FREQ=YEARLY;BYDAY=1MO,-1SU"), ("2026-03-29", "FREQ=MONTHLY;INTERVAL=3;BYDAY=5SU"), ("2026-01-30", "FREQ=YEARLY;BYMONTH=2,3"),
]
out = []
for start, rule in rules:
    begin = datetime.fromisoformat(start)
    end = begin + timedelta(days=3000)
    r = rrulestr(rule, dtstart=begin)
    out.append({"start": start, "rule": rule, "until": end.date().isoformat(), "days": [d.date().isoformat() for d in r.between(begin - timedelta(days=1), end - timedelta(seconds=1))]})
with open(os.path.join(here, "recurrences.json"), "w") as f:
    json.dump({"madeWith": f"dateutil {__version__}", "rules": out}, f)
    f.write("\n")
