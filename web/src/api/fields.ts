// Written by scripts/fields.mjs from the description of the API; make api.

export type FieldSaid = { title: string; unit?: string; min?: number; max?: number; longest?: number; pattern?: string; about?: string }

export const fields: Record<string, FieldSaid> = {
  "Area.exemptIds": {
    "title": "Exempt",
    "about": "People who are never refused for where they are"
  },
  "Area.forget": {
    "title": "Forgotten daily at",
    "pattern": "^([01]\\d|2[0-3]):[0-5]\\d$",
    "about": "Everybody's place is forgotten daily at this time, 04:00; empty: never"
  },
  "Area.mode": {
    "title": "Coming in again",
    "about": "About somebody who is not where the reader leads from"
  },
  "Area.most": {
    "title": "People inside at the most",
    "min": 0,
    "max": 100000,
    "about": "People inside at the most; 0: no limit"
  },
  "Area.name": {
    "title": "Name",
    "longest": 80
  },
  "Area.strict": {
    "title": "Strict off the network",
    "about": "Off the network it goes on refusing by what it knows"
  },
  "Area.timed": {
    "title": "Only for",
    "unit": "min",
    "min": 0,
    "max": 1440,
    "about": "Only for so many minutes after somebody has come in; 0: until they leave"
  },
  "Area.two": {
    "title": "Nobody comes in alone",
    "about": "Nobody comes in alone while it is empty"
  },
  "Callout.name": {
    "title": "Name",
    "longest": 80
  },
  "Callout.url": {
    "title": "Address",
    "longest": 400,
    "about": "http:// or https://"
  },
  "Car.boards": {
    "title": "Expanders of its relays",
    "about": "Addresses of the expanders with its floor relays, 16 each, in the order of the relays"
  },
  "Car.buttons": {
    "title": "Expanders of its buttons",
    "about": "Addresses of the expanders that its floor buttons are wired back to; none: they are not"
  },
  "Car.fire": {
    "title": "In a fire release",
    "about": "What its floor relays do in a fire release"
  },
  "Car.freight": {
    "title": "Carries goods",
    "about": "It carries goods: a level for all elevators should leave it out"
  },
  "Car.stops": {
    "title": "Floors, the lowest first",
    "about": "The floors that it serves, the lowest first"
  },
  "CardFormat.facilities": {
    "title": "Accepted facility codes",
    "about": "Accepted facility codes; none listed accepts all"
  },
  "CardFormat.format": {
    "title": "Format",
    "about": "Its name: 26-bit, 34-bit, 37-bit, FASC-N, raw, or one of the site's own"
  },
  "Combination.confirmed": {
    "title": "An operator confirms",
    "about": "Once all are there an operator at the screen confirms, or refuses"
  },
  "Combination.listed": {
    "title": "In this order",
    "about": "They come in the order of the parts, the others after them"
  },
  "Combination.parts": {
    "title": "Parts"
  },
  "Combination.total": {
    "title": "People in all",
    "about": "People in all, 2 to 5"
  },
  "Controller.expanders": {
    "title": "Expanders"
  },
  "Controller.model": {
    "title": "Model"
  },
  "Controller.name": {
    "title": "Name",
    "longest": 80
  },
  "Controller.people": {
    "title": "People it can hold",
    "about": "How many people it can hold"
  },
  "Controller.place": {
    "title": "Place",
    "longest": 200,
    "about": "Where it hangs, for whoever looks for it"
  },
  "Controller.ports": {
    "title": "Doors it can drive",
    "about": "How many doors it can drive"
  },
  "Controller.resistor": {
    "title": "End-of-line resistors",
    "unit": "Ω",
    "min": 0,
    "max": 100000,
    "about": "Of each end-of-line resistor, in ohms; 0: not said"
  },
  "Controller.serial": {
    "title": "Serial"
  },
  "Controller.siteId": {
    "title": "Site"
  },
  "Controller.zone": {
    "title": "Time zone",
    "about": "IANA time zone; its doors inherit it"
  },
  "Credential.format": {
    "title": "Format",
    "about": "Of a card: the name of its format"
  },
  "Credential.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "First day, 2006-01-02, or moment, 2006-01-02T15:04"
  },
  "Credential.kind": {
    "title": "Kind"
  },
  "Credential.status": {
    "title": "Status"
  },
  "Credential.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "Last day, 2006-01-02, or the moment at which it ends, 2006-01-02T15:04"
  },
  "Credential.value": {
    "title": "Number",
    "longest": 200,
    "about": "A card's number as people say it, 42-12345; a phone's or a pass's own text; a plate"
  },
  "DatedChange.doorIds": {
    "title": "Doors"
  },
  "DatedChange.ended": {
    "title": "Ended",
    "about": "It was ended early: wall clock from which it no longer holds"
  },
  "DatedChange.except": {
    "title": "Left out",
    "about": "First days on which it does not happen"
  },
  "DatedChange.floorIds": {
    "title": "Floors"
  },
  "DatedChange.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d$",
    "about": "Wall clock of the door, 2006-01-02T15:04"
  },
  "DatedChange.mode": {
    "title": "The doors are"
  },
  "DatedChange.name": {
    "title": "Name",
    "longest": 80
  },
  "DatedChange.recurs": {
    "title": "Recurs",
    "about": "RFC 5545 rule, FREQ=WEEKLY;BYDAY=FR; empty: once"
  },
  "DatedChange.setIds": {
    "title": "Door sets",
    "about": "Door sets"
  },
  "DatedChange.siteIds": {
    "title": "Sites"
  },
  "DatedChange.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d$",
    "about": "Wall clock of the door, 2006-01-02T15:04"
  },
  "Department.alwaysPin": {
    "title": "Always with PIN",
    "about": "Its members always give a PIN, whatever the door asks"
  },
  "Department.extendedTime": {
    "title": "Needs longer to pass",
    "about": "Its members need longer to pass"
  },
  "Department.levels": {
    "title": "Access levels",
    "about": "What its members may do"
  },
  "Department.name": {
    "title": "Name",
    "longest": 80
  },
  "Door.contact": {
    "title": "Door contact"
  },
  "Door.contactSupervised": {
    "title": "Contact supervised",
    "about": "The contact's wire is supervised"
  },
  "Door.controllerId": {
    "title": "Controller"
  },
  "Door.exit": {
    "title": "Exit request"
  },
  "Door.exitKind": {
    "title": "Exit device",
    "about": "None: a button"
  },
  "Door.exitReleases": {
    "title": "The exit request releases the lock"
  },
  "Door.exitSupervised": {
    "title": "Exit request supervised",
    "about": "The exit request's wire is supervised"
  },
  "Door.exitTime": {
    "title": "Exit time",
    "unit": "s",
    "min": 1,
    "max": 600
  },
  "Door.extended": {
    "title": "Extended unlock time",
    "unit": "s",
    "min": 1,
    "max": 600
  },
  "Door.failSafe": {
    "title": "Fail-safe",
    "about": "Unlocked when power fails"
  },
  "Door.fireDoor": {
    "title": "Fire door",
    "about": "It hangs in a fire-rated door"
  },
  "Door.floorId": {
    "title": "Floor"
  },
  "Door.forced": {
    "title": "Forced delay",
    "unit": "s",
    "min": 0,
    "max": 30,
    "about": "Delay of the forced alarm"
  },
  "Door.gauge": {
    "title": "Wire",
    "unit": "AWG",
    "about": "Of its wires, AWG (ASTM B258); 0: not known"
  },
  "Door.heldOpen": {
    "title": "Held open after",
    "unit": "s",
    "min": 5,
    "max": 3600
  },
  "Door.inside": {
    "title": "Inside",
    "longest": 400,
    "about": "What the door leads to"
  },
  "Door.insideAreaId": {
    "title": "Area inside",
    "about": "The area that it leads to; 0: none"
  },
  "Door.lock": {
    "title": "Lock"
  },
  "Door.metres": {
    "title": "Cable to the lock",
    "unit": "m",
    "min": 0,
    "max": 1000,
    "about": "Length of the cable to the lock, one way; 0: not known"
  },
  "Door.milliamps": {
    "title": "Lock current",
    "unit": "mA",
    "min": 0,
    "max": 10000,
    "about": "What it draws; 0: not known"
  },
  "Door.monitored": {
    "title": "Lock is monitored",
    "about": "It tells whether it holds"
  },
  "Door.name": {
    "title": "Name",
    "longest": 80
  },
  "Door.notFromAfar": {
    "title": "Not released from afar",
    "about": "Not released or held free from a screen"
  },
  "Door.order": {
    "title": "Order on its floor",
    "min": 0,
    "max": 10000,
    "about": "Its place among the doors of its floor; equal ones by name"
  },
  "Door.outOfUse": {
    "title": "Out of use",
    "about": "Not in use: readers off, lock not driven; settings are kept"
  },
  "Door.outside": {
    "title": "Outside",
    "longest": 400,
    "about": "What is on the side of the reader in"
  },
  "Door.outsideAreaId": {
    "title": "Area outside",
    "about": "The area that the reader in leads from; 0: none"
  },
  "Door.planId": {
    "title": "Passage plan"
  },
  "Door.port": {
    "title": "Port",
    "min": 1,
    "max": 65536
  },
  "Door.preAlarm": {
    "title": "Warning before",
    "unit": "s",
    "min": 0,
    "max": 600,
    "about": "Seconds of warning before held open; 0 is none"
  },
  "Door.relock": {
    "title": "Locks again"
  },
  "Door.supplyId": {
    "title": "Fed by"
  },
  "Door.tolerance": {
    "title": "Works down to minus",
    "unit": "%",
    "min": 0,
    "max": 50,
    "about": "How far below its voltage it still works, in percent; 0: 10"
  },
  "Door.unlock": {
    "title": "Unlock time",
    "unit": "s",
    "min": 1,
    "max": 600
  },
  "Door.volts": {
    "title": "Lock voltage",
    "unit": "V",
    "min": 0,
    "max": 48,
    "about": "0: not known"
  },
  "DoorSet.doorIds": {
    "title": "Doors"
  },
  "DoorSet.name": {
    "title": "Name",
    "longest": 80
  },
  "Emergency.cardEnds": {
    "title": "As many reads end it",
    "about": "As many reads end it too; else it ends at the screen only"
  },
  "Emergency.does": {
    "title": "What it does"
  },
  "Emergency.name": {
    "title": "Name",
    "longest": 80
  },
  "Emergency.off": {
    "title": "Not in use",
    "about": "Not in use; its settings are kept"
  },
  "Emergency.overrides": {
    "title": "Those who override it come in",
    "about": "Of lockdown: whose level overrides it comes in by card; else nobody does"
  },
  "Emergency.reads": {
    "title": "Reads of a card that start it",
    "min": 3,
    "max": 5,
    "about": "Of lockdown: so many reads of one card in a row at any of its doors start it, by somebody whose level locks down; 0: no card does"
  },
  "Emergency.targets": {
    "title": "Doors",
    "about": "Doors, door sets, floors, sites, or everything; what is added to them later is meant too"
  },
  "Entry.except": {
    "title": "Left out",
    "about": "Doors of the place that are left out; another entry may come to them all the same"
  },
  "Entry.scheduleId": {
    "title": "Schedule"
  },
  "Expander.address": {
    "title": "Address on the bus",
    "min": 1,
    "max": 32,
    "about": "On the controller's bus; set at the expander itself"
  },
  "Expander.kind": {
    "title": "Expander"
  },
  "Expander.name": {
    "title": "Name",
    "longest": 80,
    "about": "Where it is"
  },
  "Facility.code": {
    "title": "Facility code",
    "min": 0
  },
  "Facility.name": {
    "title": "Name",
    "longest": 80
  },
  "Facility.siteId": {
    "title": "Site",
    "about": "The site whose cards carry it; 0: any"
  },
  "FirstCard.before": {
    "title": "Before the start",
    "unit": "min",
    "min": 0,
    "max": 720,
    "about": "Minutes before the start, where counts is minutes"
  },
  "FirstCard.counts": {
    "title": "Counts"
  },
  "FirstCard.length": {
    "title": "Free for"
  },
  "FirstCard.minutes": {
    "title": "Free for",
    "unit": "min",
    "min": 1,
    "max": 720,
    "about": "How long it is free, where length is minutes"
  },
  "FirstCard.often": {
    "title": "How often"
  },
  "FirstCard.untilThen": {
    "title": "Until then"
  },
  "FirstCard.who": {
    "title": "Who gives it"
  },
  "Floor.level": {
    "title": "Order in the building",
    "min": -20,
    "max": 200,
    "about": "Order in the building, 0 at street level"
  },
  "Floor.name": {
    "title": "Name",
    "longest": 80
  },
  "Floor.siteId": {
    "title": "Site"
  },
  "FreeCard.format": {
    "title": "Format",
    "about": "Of a card: the name of its format"
  },
  "FreeCard.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "First day, 2006-01-02, or moment, 2006-01-02T15:04"
  },
  "FreeCard.kind": {
    "title": "Kind"
  },
  "FreeCard.status": {
    "title": "Status"
  },
  "FreeCard.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "Last day, 2006-01-02, or the moment at which it ends, 2006-01-02T15:04"
  },
  "FreeCard.value": {
    "title": "Number",
    "longest": 200,
    "about": "A card's number as people say it, 42-12345; a phone's or a pass's own text; a plate"
  },
  "Grant.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "First day, 2006-01-02, or moment, 2006-01-02T15:04"
  },
  "Grant.levelId": {
    "title": "Access level",
    "about": "0: a place and a schedule stand here"
  },
  "Grant.scheduleId": {
    "title": "Schedule",
    "about": "Where no level is given"
  },
  "Grant.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "Last day, 2006-01-02, or the moment at which it ends, 2006-01-02T15:04"
  },
  "Group.departmentIds": {
    "title": "Departments",
    "about": "Whose members are in it, also those who join later"
  },
  "Group.name": {
    "title": "Name",
    "longest": 80
  },
  "Group.personIds": {
    "title": "People"
  },
  "Holiday.dates": {
    "title": "Dates",
    "about": "Of dates: each as 2006-01-02"
  },
  "Holiday.day": {
    "title": "Day",
    "about": "Of every year: the day of the month"
  },
  "Holiday.days": {
    "title": "Days",
    "about": "How many days it lasts; 0 is one"
  },
  "Holiday.end": {
    "title": "Until",
    "about": "Minute up to which it holds; 0 and 1440 are the whole day"
  },
  "Holiday.kind": {
    "title": "When"
  },
  "Holiday.month": {
    "title": "Month",
    "about": "Of every year and nth weekday: 1 to 12"
  },
  "Holiday.name": {
    "title": "Name",
    "longest": 80
  },
  "Holiday.nth": {
    "title": "Which",
    "about": "Of nth weekday: 1 to 5, or -1 for the last"
  },
  "Holiday.offset": {
    "title": "Days after Easter",
    "unit": "d",
    "about": "Of from Easter: days after Easter Sunday, before it negative"
  },
  "Holiday.siteIds": {
    "title": "Sites",
    "about": "The sites that it holds for; none listed: all"
  },
  "Holiday.start": {
    "title": "From",
    "about": "Minute of the day from which it holds"
  },
  "Holiday.typeId": {
    "title": "Type"
  },
  "Holiday.weekday": {
    "title": "Weekday",
    "about": "Of nth weekday: 0 is Monday"
  },
  "HolidayType.name": {
    "title": "Name",
    "longest": 80
  },
  "HolidayType.plans": {
    "title": "Passage plans",
    "about": "What passage plans do that have no answer of their own"
  },
  "HolidayType.rank": {
    "title": "Rank",
    "min": 0,
    "max": 1000,
    "about": "Of two holidays on one date the higher rank decides"
  },
  "HolidayType.schedules": {
    "title": "Schedules",
    "about": "What schedules do that have no answer of their own"
  },
  "Input.at": {
    "title": "Terminal",
    "about": "Its terminal, such as i9 or 2/i3"
  },
  "Input.contact": {
    "title": "Wired"
  },
  "Input.controllerId": {
    "title": "Controller"
  },
  "Input.doorIds": {
    "title": "Doors",
    "about": "Of fire and lockdown: doors of its controller; none listed: all of them"
  },
  "Input.emergencyId": {
    "title": "Starts",
    "about": "Of fire and lockdown: what it starts, at other controllers too; 0: at the doors that are listed"
  },
  "Input.name": {
    "title": "Name",
    "longest": 80
  },
  "Input.supervised": {
    "title": "Supervised"
  },
  "Input.use": {
    "title": "What it does"
  },
  "Interlock.doorIds": {
    "title": "Doors"
  },
  "Interlock.exits": {
    "title": "Exit requests are held back",
    "about": "Exit requests that release a lock are held back too"
  },
  "Interlock.name": {
    "title": "Name",
    "longest": 80
  },
  "Interlock.off": {
    "title": "Not in use",
    "about": "Not in use; its settings are kept"
  },
  "Interlock.waits": {
    "title": "A grant waits",
    "about": "A grant waits until the other door is closed and locked; else it is refused"
  },
  "Level.approves": {
    "title": "Approves others",
    "about": "Who has it approves others, where a door wants that"
  },
  "Level.entries": {
    "title": "Where and when"
  },
  "Level.includes": {
    "title": "Contains",
    "about": "Levels that are contained: who has this one has them too"
  },
  "Level.locksDown": {
    "title": "Starts and ends lockdowns",
    "about": "Who has it starts and ends lockdowns by reads in a row, where a lockdown lets them"
  },
  "Level.name": {
    "title": "Name",
    "longest": 80
  },
  "Level.opensDay": {
    "title": "Opens the day",
    "about": "Who has it gives the first card, where a door wants one of them"
  },
  "Level.overrides": {
    "title": "Overrides lockdown",
    "about": "Who has it comes in during a lockdown that lets them"
  },
  "Level.toggles": {
    "title": "May toggle doors",
    "about": "Who has it may toggle doors by reads in a row"
  },
  "Network.address": {
    "title": "Address",
    "longest": 18,
    "about": "With the length of the subnet's prefix"
  },
  "Network.fixed": {
    "title": "Fixed address",
    "about": "It keeps the address that it is given here; else it gets one by DHCP"
  },
  "Network.gateway": {
    "title": "Gateway",
    "longest": 15
  },
  "Network.vlan": {
    "title": "VLAN",
    "min": 0,
    "max": 4094,
    "about": "The VLAN of its socket, for whoever looks after the network; 0: not known"
  },
  "Output.at": {
    "title": "Terminal",
    "about": "Its terminal, such as o5 or 1/o16"
  },
  "Output.controllerId": {
    "title": "Controller"
  },
  "Output.doorIds": {
    "title": "Doors",
    "about": "The doors of its controller that it tells of; none listed: all of them"
  },
  "Output.name": {
    "title": "Name",
    "longest": 80
  },
  "Output.use": {
    "title": "What it drives"
  },
  "Output.when": {
    "title": "On by itself",
    "about": "When it is on by itself"
  },
  "OwnFormat.bits": {
    "title": "Length",
    "unit": "bits",
    "about": "Length of a read"
  },
  "OwnFormat.fixed": {
    "title": "Fixed bits",
    "about": "Bits that are always the same"
  },
  "OwnFormat.name": {
    "title": "Name",
    "longest": 80
  },
  "OwnFormat.parity": {
    "title": "Parity"
  },
  "Part.count": {
    "title": "People"
  },
  "Part.groupId": {
    "title": "Group"
  },
  "Person.alwaysPin": {
    "title": "Always with PIN",
    "about": "Always with PIN, whatever the door asks"
  },
  "Person.credentials": {
    "title": "Credentials"
  },
  "Person.departmentIds": {
    "title": "Departments"
  },
  "Person.email": {
    "title": "E-mail",
    "longest": 120
  },
  "Person.extendedTime": {
    "title": "Needs longer to pass"
  },
  "Person.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "First day, 2006-01-02, or moment, 2006-01-02T15:04"
  },
  "Person.levels": {
    "title": "Access levels"
  },
  "Person.name": {
    "title": "Name",
    "longest": 80
  },
  "Person.note": {
    "title": "Note",
    "longest": 2000
  },
  "Person.number": {
    "title": "Number",
    "longest": 40,
    "about": "Personnel number"
  },
  "Person.phone": {
    "title": "Phone",
    "longest": 40
  },
  "Person.pinInstead": {
    "title": "PIN instead of a card",
    "about": "At a reader with keys the PIN alone does where the door asks for a card"
  },
  "Person.suspended": {
    "title": "Suspended"
  },
  "Person.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$",
    "about": "Last day, 2006-01-02, or the moment at which it ends, 2006-01-02T15:04"
  },
  "Plan.default": {
    "title": "Default mode"
  },
  "Plan.holidays": {
    "title": "Holidays"
  },
  "Plan.name": {
    "title": "Name",
    "longest": 80
  },
  "Plan.week": {
    "title": "Week",
    "about": "Monday first"
  },
  "Proofs.both": {
    "title": "On the way out too",
    "about": "On the way out too"
  },
  "Proofs.combinations": {
    "title": "Combinations",
    "about": "Of combinations: any of them opens"
  },
  "Proofs.doorIds": {
    "title": "Doors"
  },
  "Proofs.kind": {
    "title": "What is wanted"
  },
  "Proofs.name": {
    "title": "Name",
    "longest": 80
  },
  "Proofs.off": {
    "title": "Not in use",
    "about": "Not in use; its settings are kept"
  },
  "Proofs.scheduleId": {
    "title": "When it holds",
    "about": "When it holds"
  },
  "Proofs.window": {
    "title": "The next one within",
    "unit": "s",
    "min": 5,
    "max": 120,
    "about": "Within which the others come, counted from the last one"
  },
  "Reaction.address": {
    "title": "To",
    "longest": 200,
    "about": "Of mail: whom to; of call: the allowed address"
  },
  "Reaction.areaId": {
    "title": "Area",
    "about": "Of occupied"
  },
  "Reaction.at": {
    "title": "At",
    "about": "Of what happens at doors: where; none listed: at any door"
  },
  "Reaction.count": {
    "title": "People inside",
    "about": "Of occupied: so many people"
  },
  "Reaction.do": {
    "title": "Do"
  },
  "Reaction.emergencyId": {
    "title": "Which",
    "about": "Of lockdown and fire: which that was made ready"
  },
  "Reaction.hour": {
    "title": "At",
    "pattern": "^([01]\\d|2[0-3]):[0-5]\\d$",
    "about": "Of hour: a time of the day, such as 22:00, by the clock of each controller"
  },
  "Reaction.inputIds": {
    "title": "Inputs",
    "about": "Of inputs: which; none listed: any"
  },
  "Reaction.mode": {
    "title": "Mode",
    "about": "Of hold: the passage mode"
  },
  "Reaction.name": {
    "title": "Name",
    "longest": 80
  },
  "Reaction.off": {
    "title": "Not in use",
    "about": "Not in use; its settings are kept"
  },
  "Reaction.outputIds": {
    "title": "Outputs",
    "about": "Of outputs: which"
  },
  "Reaction.reason": {
    "title": "For the reason",
    "longest": 40,
    "about": "Of refused: only for this reason, such as outside-hours; empty: for any"
  },
  "Reaction.scheduleId": {
    "title": "During",
    "about": "Only while it is open"
  },
  "Reaction.seconds": {
    "title": "For",
    "unit": "s",
    "min": 0,
    "max": 86400,
    "about": "Of hold and outputs: for so long; 0: until it is ended"
  },
  "Reaction.sourceIds": {
    "title": "Controllers",
    "about": "Of what happens to controllers: which; none listed: any"
  },
  "Reaction.text": {
    "title": "Words",
    "longest": 200,
    "about": "Of tell, mail and camera: what is said; of camera: which camera"
  },
  "Reaction.to": {
    "title": "Doors",
    "about": "Of what is done to doors: which"
  },
  "Reaction.until": {
    "title": "Until it has ended",
    "about": "Of output on: until what happened has ended"
  },
  "Reaction.when": {
    "title": "When"
  },
  "Reader.address": {
    "title": "Address on the bus",
    "min": 0,
    "max": 126,
    "about": "Of an OSDP reader on its bus, 0 to 126"
  },
  "Reader.baud": {
    "title": "Rate",
    "unit": "baud",
    "about": "Of an OSDP reader, bits a second; none: 9600"
  },
  "Reader.connection": {
    "title": "Connected by",
    "about": "None: Wiegand"
  },
  "Reader.dark": {
    "title": "No light at rest",
    "about": "It shows no light at rest"
  },
  "Reader.enrols": {
    "title": "New cards are enrolled here",
    "about": "New cards are presented here to be enrolled"
  },
  "Reader.fitted": {
    "title": "Fitted"
  },
  "Reader.formats": {
    "title": "Card formats",
    "about": "The card formats that it takes; none listed: all that the settings list"
  },
  "Reader.keypad": {
    "title": "Keypad"
  },
  "Reader.silent": {
    "title": "No sound",
    "about": "It makes no sound"
  },
  "Reader.takes": {
    "title": "Takes besides cards",
    "about": "What it takes besides cards"
  },
  "Ride.allCars": {
    "title": "All elevators, later ones too",
    "about": "All elevators, and those that are added later"
  },
  "Ride.allFloors": {
    "title": "All floors, later ones too",
    "about": "All floors, and those that are added later"
  },
  "Ride.carIds": {
    "title": "Elevators",
    "about": "The elevators, where not all"
  },
  "Ride.floorIds": {
    "title": "Floors",
    "about": "The floors, where not all"
  },
  "Schedule.fixed": {
    "title": "Fixed"
  },
  "Schedule.holidays": {
    "title": "Holidays"
  },
  "Schedule.name": {
    "title": "Name",
    "longest": 80
  },
  "Schedule.week": {
    "title": "Week",
    "about": "Periods of each weekday, Monday first"
  },
  "Screening.count": {
    "title": "How many",
    "min": 1,
    "max": 366,
    "about": "Of hours and days: how many"
  },
  "Screening.departmentIds": {
    "title": "Departments",
    "about": "Whose members are screened, also those who join later"
  },
  "Screening.deskIds": {
    "title": "Cleared at the screen, after a card at",
    "about": "Doors at whose reader in a card brings up their record, to be cleared by whoever sits at the screen"
  },
  "Screening.lasts": {
    "title": "Cleared",
    "about": "Until when they are cleared"
  },
  "Screening.levelId": {
    "title": "Counts until they are cleared",
    "about": "The level that they have, and that alone counts until they are cleared; 0: none"
  },
  "Screening.logOnly": {
    "title": "Only noted",
    "about": "Who is not cleared comes in all the same, and it is noted"
  },
  "Screening.name": {
    "title": "Name",
    "longest": 80
  },
  "Screening.off": {
    "title": "Not in use",
    "about": "Not in use; its settings are kept"
  },
  "Screening.passIds": {
    "title": "Cleared by coming in at",
    "about": "Doors by which whoever comes in is cleared"
  },
  "Screening.personIds": {
    "title": "People"
  },
  "Settings.callouts": {
    "title": "Addresses that may be called",
    "about": "Addresses that reactions may call out to"
  },
  "Settings.cardWithPin": {
    "title": "PIN after the card within",
    "unit": "s",
    "min": 5,
    "max": 60,
    "about": "Seconds to type the PIN after the card"
  },
  "Settings.cards": {
    "title": "Cards that readers take",
    "about": "The formats that readers take, in the order in which they are tried"
  },
  "Settings.facilities": {
    "title": "Names of facility codes",
    "about": "What facility codes are called"
  },
  "Settings.formats": {
    "title": "Card formats of our own",
    "about": "Card formats beside the built-in ones"
  },
  "Settings.name": {
    "title": "Name",
    "longest": 80,
    "about": "Name of the installation"
  },
  "Settings.pinLength": {
    "title": "Digits of a PIN",
    "min": 4,
    "max": 8,
    "about": "Digits of a PIN"
  },
  "Settings.pinLock": {
    "title": "The keypad, for",
    "unit": "min",
    "min": 1,
    "max": 60,
    "about": "Minutes for which a keypad stays locked"
  },
  "Settings.pinLocks": {
    "title": "Wrong PINs after a card lock",
    "about": "What wrong PINs after a card lock; a PIN alone locks the keypad. Empty: the keypad"
  },
  "Settings.pinTries": {
    "title": "Wrong PINs that lock",
    "min": 2,
    "max": 20,
    "about": "Wrong PINs in a row that lock a keypad"
  },
  "Site.fromSunday": {
    "title": "Weeks from Sunday",
    "about": "Calendars begin their weeks on Sunday, not on Monday"
  },
  "Site.name": {
    "title": "Name",
    "longest": 80
  },
  "Site.twelveHour": {
    "title": "12-hour clock",
    "about": "Times are shown as 6:30 pm, not as 18:30"
  },
  "Site.zone": {
    "title": "Time zone",
    "about": "IANA time zone"
  },
  "Stop.floorId": {
    "title": "Floor"
  },
  "Stop.freeId": {
    "title": "Free by",
    "about": "The schedule during which nobody needs a card for it; 0: none"
  },
  "Stop.relay": {
    "title": "Relay",
    "min": 1,
    "max": 128,
    "about": "Counted from 1 over all its expanders"
  },
  "Supply.battery": {
    "title": "Battery",
    "unit": "0.1 Ah",
    "min": 0,
    "max": 10000,
    "about": "Tenths of an ampere-hour; 0: none"
  },
  "Supply.milliamps": {
    "title": "Gives at most",
    "unit": "mA",
    "min": 100,
    "max": 60000,
    "about": "What it gives at the most"
  },
  "Supply.name": {
    "title": "Name",
    "longest": 80
  },
  "Supply.siteId": {
    "title": "Site"
  },
  "Supply.volts": {
    "title": "Voltage",
    "unit": "V",
    "min": 5,
    "max": 48
  },
  "Target.id": {
    "title": "Place",
    "about": "Of the door, door set, floor or site; 0 with everything"
  },
  "Target.kind": {
    "title": "Place"
  },
  "Target.out": {
    "title": "Reader out",
    "about": "With reader: the reader out, else the reader in"
  },
  "Toggle.off": {
    "title": "Not in use",
    "about": "Not in use; its settings are kept"
  },
  "Toggle.reads": {
    "title": "Reads that flip the door",
    "min": 2,
    "max": 3,
    "about": "How many reads of one card flip the door: 2 or 3"
  },
  "Toggle.seconds": {
    "title": "Within",
    "unit": "s",
    "min": 1,
    "max": 20,
    "about": "Within which they come"
  },
  "Toggle.single": {
    "title": "A single read ends it",
    "about": "A single read by somebody who may ends it"
  }
}
