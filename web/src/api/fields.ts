// Written by scripts/fields.mjs from the description of the API; make api.

export type FieldSaid = { title: string; unit?: string; min?: number; max?: number; longest?: number; pattern?: string }

export const fields: Record<string, FieldSaid> = {
  "AlarmArea.alarmIds": {
    "title": "On during an alarm"
  },
  "AlarmArea.armedIds": {
    "title": "On while armed"
  },
  "AlarmArea.delayIds": {
    "title": "On while a delay runs"
  },
  "AlarmArea.doorIds": {
    "title": "Doors"
  },
  "AlarmArea.entryDelay": {
    "title": "Entry delay",
    "unit": "s",
    "min": 0,
    "max": 300
  },
  "AlarmArea.exitDelay": {
    "title": "Exit delay",
    "unit": "s",
    "min": 0,
    "max": 300
  },
  "AlarmArea.inputs": {
    "title": "Inputs"
  },
  "AlarmArea.keyId": {
    "title": "Armed by the input"
  },
  "AlarmArea.keyWorks": {
    "title": "The input"
  },
  "AlarmArea.name": {
    "title": "Name",
    "longest": 80
  },
  "AlarmArea.off": {
    "title": "Not in use"
  },
  "AlarmArea.reads": {
    "title": "Reads of a card that arm and disarm",
    "min": 2,
    "max": 3
  },
  "AlarmArea.scheduleId": {
    "title": "Armed during"
  },
  "AlarmArea.single": {
    "title": "One read disarms"
  },
  "AlarmArea.sounds": {
    "title": "The alarm sounds for",
    "unit": "s",
    "min": 5,
    "max": 1800
  },
  "Area.exemptIds": {
    "title": "Exempt"
  },
  "Area.forget": {
    "title": "Forgotten daily at",
    "pattern": "^([01]\\d|2[0-3]):[0-5]\\d$"
  },
  "Area.mode": {
    "title": "Coming in again"
  },
  "Area.most": {
    "title": "People inside at the most",
    "min": 0,
    "max": 100000
  },
  "Area.name": {
    "title": "Name",
    "longest": 80
  },
  "Area.strict": {
    "title": "Strict off the network"
  },
  "Area.timed": {
    "title": "Only for",
    "unit": "min",
    "min": 0,
    "max": 1440
  },
  "Area.two": {
    "title": "Nobody comes in alone"
  },
  "Callout.name": {
    "title": "Name",
    "longest": 80
  },
  "Callout.url": {
    "title": "Address",
    "longest": 400
  },
  "Car.boards": {
    "title": "Expanders of its relays"
  },
  "Car.buttons": {
    "title": "Expanders of its buttons"
  },
  "Car.fire": {
    "title": "In a fire release"
  },
  "Car.freight": {
    "title": "Carries goods"
  },
  "Car.stops": {
    "title": "Floors, the lowest first"
  },
  "CardFormat.facilities": {
    "title": "Accepted facility codes"
  },
  "CardFormat.format": {
    "title": "Format"
  },
  "Combination.confirmed": {
    "title": "An operator confirms"
  },
  "Combination.listed": {
    "title": "In this order"
  },
  "Combination.parts": {
    "title": "Parts"
  },
  "Combination.total": {
    "title": "People in all"
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
    "title": "People it can hold"
  },
  "Controller.place": {
    "title": "Place",
    "longest": 200
  },
  "Controller.ports": {
    "title": "Doors it can drive"
  },
  "Controller.resistor": {
    "title": "End-of-line resistors",
    "unit": "Ω",
    "min": 0,
    "max": 100000
  },
  "Controller.serial": {
    "title": "Serial"
  },
  "Controller.siteId": {
    "title": "Site"
  },
  "Controller.zone": {
    "title": "Time zone"
  },
  "Credential.format": {
    "title": "Format"
  },
  "Credential.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
  },
  "Credential.kind": {
    "title": "Kind"
  },
  "Credential.status": {
    "title": "Status"
  },
  "Credential.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
  },
  "Credential.value": {
    "title": "Number",
    "longest": 200
  },
  "DatedChange.doorIds": {
    "title": "Doors"
  },
  "DatedChange.ended": {
    "title": "Ended"
  },
  "DatedChange.except": {
    "title": "Left out"
  },
  "DatedChange.floorIds": {
    "title": "Floors"
  },
  "DatedChange.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d$"
  },
  "DatedChange.mode": {
    "title": "The doors are"
  },
  "DatedChange.name": {
    "title": "Name",
    "longest": 80
  },
  "DatedChange.recurs": {
    "title": "Recurs"
  },
  "DatedChange.setIds": {
    "title": "Door sets"
  },
  "DatedChange.siteIds": {
    "title": "Sites"
  },
  "DatedChange.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d$"
  },
  "Department.alwaysPin": {
    "title": "Always with PIN"
  },
  "Department.extendedTime": {
    "title": "Needs longer to pass"
  },
  "Department.levels": {
    "title": "Access levels"
  },
  "Department.name": {
    "title": "Name",
    "longest": 80
  },
  "Door.contact": {
    "title": "Door contact"
  },
  "Door.contactSupervised": {
    "title": "Contact supervised"
  },
  "Door.controllerId": {
    "title": "Controller"
  },
  "Door.exit": {
    "title": "Exit request"
  },
  "Door.exitKind": {
    "title": "Exit device"
  },
  "Door.exitReleases": {
    "title": "The exit request releases the lock"
  },
  "Door.exitSupervised": {
    "title": "Exit request supervised"
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
    "title": "Fail-safe"
  },
  "Door.fireDoor": {
    "title": "Fire door"
  },
  "Door.floorId": {
    "title": "Floor"
  },
  "Door.forced": {
    "title": "Forced delay",
    "unit": "s",
    "min": 0,
    "max": 30
  },
  "Door.gauge": {
    "title": "Wire",
    "unit": "AWG"
  },
  "Door.heldOpen": {
    "title": "Held open after",
    "unit": "s",
    "min": 5,
    "max": 3600
  },
  "Door.inside": {
    "title": "Inside",
    "longest": 400
  },
  "Door.insideAreaId": {
    "title": "Area inside"
  },
  "Door.lock": {
    "title": "Lock"
  },
  "Door.metres": {
    "title": "Cable to the lock",
    "unit": "m",
    "min": 0,
    "max": 1000
  },
  "Door.milliamps": {
    "title": "Lock current",
    "unit": "mA",
    "min": 0,
    "max": 10000
  },
  "Door.monitored": {
    "title": "Lock is monitored"
  },
  "Door.name": {
    "title": "Name",
    "longest": 80
  },
  "Door.notFromAfar": {
    "title": "Not released from afar"
  },
  "Door.order": {
    "title": "Order on its floor",
    "min": 0,
    "max": 10000
  },
  "Door.outOfUse": {
    "title": "Out of use"
  },
  "Door.outside": {
    "title": "Outside",
    "longest": 400
  },
  "Door.outsideAreaId": {
    "title": "Area outside"
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
    "max": 600
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
    "max": 50
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
    "max": 48
  },
  "DoorSet.doorIds": {
    "title": "Doors"
  },
  "DoorSet.name": {
    "title": "Name",
    "longest": 80
  },
  "Emergency.cardEnds": {
    "title": "As many reads end it"
  },
  "Emergency.does": {
    "title": "What it does"
  },
  "Emergency.name": {
    "title": "Name",
    "longest": 80
  },
  "Emergency.off": {
    "title": "Not in use"
  },
  "Emergency.overrides": {
    "title": "Those who override it come in"
  },
  "Emergency.reads": {
    "title": "Reads of a card that start it",
    "min": 3,
    "max": 5
  },
  "Emergency.targets": {
    "title": "Doors"
  },
  "Entry.except": {
    "title": "Left out"
  },
  "Entry.scheduleId": {
    "title": "Schedule"
  },
  "Expander.address": {
    "title": "Address on the bus",
    "min": 1,
    "max": 32
  },
  "Expander.kind": {
    "title": "Expander"
  },
  "Expander.name": {
    "title": "Name",
    "longest": 80
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
    "title": "Site"
  },
  "FirstCard.before": {
    "title": "Before the start",
    "unit": "min",
    "min": 0,
    "max": 720
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
    "max": 720
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
    "max": 200
  },
  "Floor.name": {
    "title": "Name",
    "longest": 80
  },
  "Floor.siteId": {
    "title": "Site"
  },
  "FreeCard.format": {
    "title": "Format"
  },
  "FreeCard.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
  },
  "FreeCard.kind": {
    "title": "Kind"
  },
  "FreeCard.status": {
    "title": "Status"
  },
  "FreeCard.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
  },
  "FreeCard.value": {
    "title": "Number",
    "longest": 200
  },
  "Grant.from": {
    "title": "From",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
  },
  "Grant.levelId": {
    "title": "Access level"
  },
  "Grant.scheduleId": {
    "title": "Schedule"
  },
  "Grant.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
  },
  "Group.departmentIds": {
    "title": "Departments"
  },
  "Group.name": {
    "title": "Name",
    "longest": 80
  },
  "Group.personIds": {
    "title": "People"
  },
  "Holiday.dates": {
    "title": "Dates"
  },
  "Holiday.day": {
    "title": "Day"
  },
  "Holiday.days": {
    "title": "Days"
  },
  "Holiday.end": {
    "title": "Until"
  },
  "Holiday.kind": {
    "title": "When"
  },
  "Holiday.month": {
    "title": "Month"
  },
  "Holiday.name": {
    "title": "Name",
    "longest": 80
  },
  "Holiday.nth": {
    "title": "Which"
  },
  "Holiday.offset": {
    "title": "Days after Easter",
    "unit": "d"
  },
  "Holiday.siteIds": {
    "title": "Sites"
  },
  "Holiday.start": {
    "title": "From"
  },
  "Holiday.typeId": {
    "title": "Type"
  },
  "Holiday.weekday": {
    "title": "Weekday"
  },
  "HolidayType.name": {
    "title": "Name",
    "longest": 80
  },
  "HolidayType.plans": {
    "title": "Passage plans"
  },
  "HolidayType.rank": {
    "title": "Rank",
    "min": 0,
    "max": 1000
  },
  "HolidayType.schedules": {
    "title": "Schedules"
  },
  "Input.at": {
    "title": "Terminal"
  },
  "Input.contact": {
    "title": "Wired"
  },
  "Input.controllerId": {
    "title": "Controller"
  },
  "Input.doorIds": {
    "title": "Doors"
  },
  "Input.emergencyId": {
    "title": "Starts"
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
    "title": "Exit requests are held back"
  },
  "Interlock.name": {
    "title": "Name",
    "longest": 80
  },
  "Interlock.off": {
    "title": "Not in use"
  },
  "Interlock.waits": {
    "title": "A grant waits"
  },
  "Level.approves": {
    "title": "Approves others"
  },
  "Level.arms": {
    "title": "Arms alarm areas"
  },
  "Level.disarms": {
    "title": "Disarms alarm areas"
  },
  "Level.entries": {
    "title": "Where and when"
  },
  "Level.includes": {
    "title": "Contains"
  },
  "Level.locksDown": {
    "title": "Starts and ends lockdowns"
  },
  "Level.name": {
    "title": "Name",
    "longest": 80
  },
  "Level.opensDay": {
    "title": "Opens the day"
  },
  "Level.overrides": {
    "title": "Overrides lockdown"
  },
  "Level.toggles": {
    "title": "May toggle doors"
  },
  "Network.address": {
    "title": "Address",
    "longest": 18
  },
  "Network.fixed": {
    "title": "Fixed address"
  },
  "Network.gateway": {
    "title": "Gateway",
    "longest": 15
  },
  "Network.vlan": {
    "title": "VLAN",
    "min": 0,
    "max": 4094
  },
  "Output.at": {
    "title": "Terminal"
  },
  "Output.controllerId": {
    "title": "Controller"
  },
  "Output.doorIds": {
    "title": "Doors"
  },
  "Output.name": {
    "title": "Name",
    "longest": 80
  },
  "Output.use": {
    "title": "What it drives"
  },
  "Output.when": {
    "title": "On by itself"
  },
  "OwnFormat.bits": {
    "title": "Length",
    "unit": "bits"
  },
  "OwnFormat.fixed": {
    "title": "Fixed bits"
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
    "title": "Always with PIN"
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
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
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
    "longest": 40
  },
  "Person.phone": {
    "title": "Phone",
    "longest": 40
  },
  "Person.pinInstead": {
    "title": "PIN instead of a card"
  },
  "Person.suspended": {
    "title": "Suspended"
  },
  "Person.until": {
    "title": "Until",
    "pattern": "^\\d{4}-\\d\\d-\\d\\d(T\\d\\d:\\d\\d)?$"
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
    "title": "Week"
  },
  "Proofs.both": {
    "title": "On the way out too"
  },
  "Proofs.combinations": {
    "title": "Combinations"
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
    "title": "Not in use"
  },
  "Proofs.scheduleId": {
    "title": "When it holds"
  },
  "Proofs.window": {
    "title": "The next one within",
    "unit": "s",
    "min": 5,
    "max": 120
  },
  "Reaction.address": {
    "title": "To",
    "longest": 200
  },
  "Reaction.alarmIds": {
    "title": "Alarm areas"
  },
  "Reaction.areaId": {
    "title": "Area"
  },
  "Reaction.armIds": {
    "title": "Alarm areas"
  },
  "Reaction.at": {
    "title": "At"
  },
  "Reaction.count": {
    "title": "People inside"
  },
  "Reaction.do": {
    "title": "Do"
  },
  "Reaction.emergencyId": {
    "title": "Which"
  },
  "Reaction.hour": {
    "title": "At",
    "pattern": "^([01]\\d|2[0-3]):[0-5]\\d$"
  },
  "Reaction.inputIds": {
    "title": "Inputs"
  },
  "Reaction.mode": {
    "title": "Mode"
  },
  "Reaction.name": {
    "title": "Name",
    "longest": 80
  },
  "Reaction.off": {
    "title": "Not in use"
  },
  "Reaction.outputIds": {
    "title": "Outputs"
  },
  "Reaction.reason": {
    "title": "For the reason",
    "longest": 40
  },
  "Reaction.scheduleId": {
    "title": "During"
  },
  "Reaction.seconds": {
    "title": "For",
    "unit": "s",
    "min": 0,
    "max": 86400
  },
  "Reaction.sourceIds": {
    "title": "Controllers"
  },
  "Reaction.text": {
    "title": "Words",
    "longest": 200
  },
  "Reaction.to": {
    "title": "Doors"
  },
  "Reaction.until": {
    "title": "Until it has ended"
  },
  "Reaction.when": {
    "title": "When"
  },
  "Reader.address": {
    "title": "Address on the bus",
    "min": 0,
    "max": 126
  },
  "Reader.baud": {
    "title": "Rate",
    "unit": "baud"
  },
  "Reader.connection": {
    "title": "Connected by"
  },
  "Reader.dark": {
    "title": "No light at rest"
  },
  "Reader.enrols": {
    "title": "New cards are enrolled here"
  },
  "Reader.fitted": {
    "title": "Fitted"
  },
  "Reader.formats": {
    "title": "Card formats"
  },
  "Reader.keypad": {
    "title": "Keypad"
  },
  "Reader.silent": {
    "title": "No sound"
  },
  "Reader.takes": {
    "title": "Takes besides cards"
  },
  "Ride.allCars": {
    "title": "All elevators, later ones too"
  },
  "Ride.allFloors": {
    "title": "All floors, later ones too"
  },
  "Ride.carIds": {
    "title": "Elevators"
  },
  "Ride.floorIds": {
    "title": "Floors"
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
    "title": "Week"
  },
  "Screening.count": {
    "title": "How many",
    "min": 1,
    "max": 366
  },
  "Screening.departmentIds": {
    "title": "Departments"
  },
  "Screening.deskIds": {
    "title": "Cleared at the screen, after a card at"
  },
  "Screening.lasts": {
    "title": "Cleared"
  },
  "Screening.levelId": {
    "title": "Counts until they are cleared"
  },
  "Screening.logOnly": {
    "title": "Only noted"
  },
  "Screening.name": {
    "title": "Name",
    "longest": 80
  },
  "Screening.off": {
    "title": "Not in use"
  },
  "Screening.passIds": {
    "title": "Cleared by coming in at"
  },
  "Screening.personIds": {
    "title": "People"
  },
  "Settings.callouts": {
    "title": "Addresses that may be called"
  },
  "Settings.cardWithPin": {
    "title": "PIN after the card within",
    "unit": "s",
    "min": 5,
    "max": 60
  },
  "Settings.cards": {
    "title": "Cards that readers take"
  },
  "Settings.facilities": {
    "title": "Names of facility codes"
  },
  "Settings.formats": {
    "title": "Card formats of our own"
  },
  "Settings.name": {
    "title": "Name",
    "longest": 80
  },
  "Settings.pinLength": {
    "title": "Digits of a PIN",
    "min": 4,
    "max": 8
  },
  "Settings.pinLock": {
    "title": "The keypad, for",
    "unit": "min",
    "min": 1,
    "max": 60
  },
  "Settings.pinLocks": {
    "title": "Wrong PINs after a card lock"
  },
  "Settings.pinTries": {
    "title": "Wrong PINs that lock",
    "min": 2,
    "max": 20
  },
  "Site.fromSunday": {
    "title": "Weeks from Sunday"
  },
  "Site.name": {
    "title": "Name",
    "longest": 80
  },
  "Site.twelveHour": {
    "title": "12-hour clock"
  },
  "Site.zone": {
    "title": "Time zone"
  },
  "Stop.floorId": {
    "title": "Floor"
  },
  "Stop.freeId": {
    "title": "Free by"
  },
  "Stop.relay": {
    "title": "Relay",
    "min": 1,
    "max": 128
  },
  "Supply.battery": {
    "title": "Battery",
    "unit": "0.1 Ah",
    "min": 0,
    "max": 10000
  },
  "Supply.milliamps": {
    "title": "Gives at most",
    "unit": "mA",
    "min": 100,
    "max": 60000
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
    "title": "Place"
  },
  "Target.kind": {
    "title": "Place"
  },
  "Target.out": {
    "title": "Reader out"
  },
  "Toggle.off": {
    "title": "Not in use"
  },
  "Toggle.reads": {
    "title": "Reads that flip the door",
    "min": 2,
    "max": 3
  },
  "Toggle.seconds": {
    "title": "Within",
    "unit": "s",
    "min": 1,
    "max": 20
  },
  "Toggle.single": {
    "title": "A single read ends it"
  },
  "Watched.inputId": {
    "title": "Input"
  },
  "Watched.onWay": {
    "title": "On the way in and out"
  }
}
