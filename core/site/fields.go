package site

// Field is what is to be known of a field beside its type: what people call it, and its limits. Values are checked
// against it, and the API describes itself by it.
type Field struct {
	Title    string
	Unit     string // short, as it stands behind a number: s, min
	Min, Max int    // both 0: no limits; of a text the longest that it may be is Max
	Pattern  string // of a text, as ECMA-262 has it
}

// The patterns of texts.
const (
	patternWhen = `^\d{4}-\d\d-\d\d(T\d\d:\d\d)?$`
	patternWall = `^\d{4}-\d\d-\d\dT\d\d:\d\d$`
)

var nameField = Field{Title: "Name", Max: 80}

// Fields are the fields of the configuration, as Type.field with the names of the API.
var Fields = map[string]Field{
	"Settings.name":        {Title: "Name", Max: 80},
	"Settings.cards":       {Title: "Cards that readers take"},
	"Settings.pinLength":   {Title: "Digits of a PIN", Min: 4, Max: 8},
	"Settings.pinTries":    {Title: "Wrong PINs that lock", Min: 2, Max: 20},
	"Settings.pinLock":     {Title: "The keypad, for", Unit: "min", Min: 1, Max: 60},
	"Settings.cardWithPin": {Title: "PIN after the card within", Unit: "s", Min: 5, Max: 60},

	"Settings.formats":    {Title: "Card formats of our own"},
	"Settings.facilities": {Title: "Names of facility codes"},
	"OwnFormat.name":      nameField,
	"OwnFormat.bits":      {Title: "Length", Unit: "bits"},
	"OwnFormat.facility":  {Title: "Facility code"},
	"OwnFormat.number":    {Title: "Card number"},
	"OwnFormat.parity":    {Title: "Parity"},
	"OwnFormat.fixed":     {Title: "Fixed bits"},
	"Facility.code":       {Title: "Facility code"},
	"Facility.name":       {Title: "Name", Max: 80},
	"Facility.siteId":     {Title: "Site"},

	"CardFormat.format":     {Title: "Format"},
	"CardFormat.facilities": {Title: "Accepted facility codes"},

	"Site.name": nameField,
	"Site.zone": {Title: "Time zone"},

	"Site.twelveHour": {Title: "12-hour clock"},
	"Site.fromSunday": {Title: "Weeks from Sunday"},

	"Floor.name":   nameField,
	"Floor.siteId": {Title: "Site"},
	"Floor.level":  {Title: "Order in the building", Min: -20, Max: 200},

	"Controller.name":   nameField,
	"Controller.siteId": {Title: "Site"},
	"Controller.zone":   {Title: "Time zone"},
	"Controller.serial": {Title: "Serial"},
	"Controller.model":  {Title: "Model"},
	"Controller.ports":  {Title: "Doors it can drive"},
	"Controller.people": {Title: "People it can hold"},

	"Controller.expanders": {Title: "Expanders"},
	"Controller.network":   {Title: "Network"},
	"Controller.resistor":  {Title: "End-of-line resistors", Unit: "Ω", Max: 100_000},
	"Controller.place":     {Title: "Place", Max: 200},
	"Expander.address":     {Title: "Address on the bus", Min: 1, Max: MaxExpanderAddress},
	"Expander.kind":        {Title: "Expander"},
	"Expander.name":        {Title: "Name", Max: 80},
	"Network.fixed":        {Title: "Fixed address"},
	"Network.address":      {Title: "Address", Max: 18},
	"Network.gateway":      {Title: "Gateway", Max: 15},
	"Network.vlan":         {Title: "VLAN", Max: 4094},

	"Reader.fitted": {Title: "Fitted"},
	"Reader.keypad": {Title: "Keypad"},
	"Reader.takes":  {Title: "Takes besides cards"},

	"Reader.connection": {Title: "Connected by"},
	"Reader.address":    {Title: "Address on the bus", Max: 126},
	"Reader.baud":       {Title: "Rate", Unit: "baud"},
	"Reader.formats":    {Title: "Card formats"},
	"Reader.silent":     {Title: "No sound"},
	"Reader.dark":       {Title: "No light at rest"},
	"Reader.enrols":     {Title: "New cards are enrolled here"},

	"Input.name":         nameField,
	"Input.controllerId": {Title: "Controller"},
	"Input.at":           {Title: "Terminal"},
	"Input.use":          {Title: "What it does"},
	"Input.contact":      {Title: "Wired"},
	"Input.supervised":   {Title: "Supervised"},
	"Input.doorIds":      {Title: "Doors"},

	"Output.name":         nameField,
	"Output.controllerId": {Title: "Controller"},
	"Output.at":           {Title: "Terminal"},
	"Output.use":          {Title: "What it drives"},
	"Output.when":         {Title: "On by itself"},
	"Output.doorIds":      {Title: "Doors"},

	"Supply.name":      nameField,
	"Supply.siteId":    {Title: "Site"},
	"Supply.volts":     {Title: "Voltage", Unit: "V", Min: 5, Max: 48},
	"Supply.milliamps": {Title: "Gives at most", Unit: "mA", Min: 100, Max: 60_000},
	"Supply.battery":   {Title: "Battery", Unit: "0.1 Ah", Max: 10_000},

	"Door.name":              nameField,
	"Door.floorId":           {Title: "Floor"},
	"Door.controllerId":      {Title: "Controller"},
	"Door.port":              {Title: "Port", Min: 1, Max: 1 << 16},
	"Door.planId":            {Title: "Passage plan"},
	"Door.outside":           {Title: "Outside", Max: 400},
	"Door.inside":            {Title: "Inside", Max: 400},
	"Door.firstCard":         {Title: "First card"},
	"Door.toggle":            {Title: "Card toggle"},
	"Door.notFromAfar":       {Title: "Not released from afar"},
	"Toggle.reads":           {Title: "Reads that flip the door", Min: 2, Max: 3},
	"Toggle.seconds":         {Title: "Within", Unit: "s", Min: 1, Max: 20},
	"Toggle.single":          {Title: "A single read ends it"},
	"Toggle.off":             {Title: "Not in use"},
	"Interlock.name":         nameField,
	"Interlock.doorIds":      {Title: "Doors"},
	"Interlock.waits":        {Title: "A grant waits"},
	"Interlock.exits":        {Title: "Exit requests are held back"},
	"Interlock.off":          {Title: "Not in use"},
	"Area.name":              nameField,
	"Area.mode":              {Title: "Coming in again"},
	"Area.timed":             {Title: "Only for", Unit: "min", Max: 1440},
	"Area.forget":            {Title: "Forgotten daily at", Pattern: `^([01]\d|2[0-3]):[0-5]\d$`},
	"Area.most":              {Title: "People inside at the most", Max: 100_000},
	"Area.two":               {Title: "Nobody comes in alone"},
	"Area.strict":            {Title: "Strict off the network"},
	"Area.exemptIds":         {Title: "Exempt"},
	"Door.outsideAreaId":     {Title: "Area outside"},
	"Door.insideAreaId":      {Title: "Area inside"},
	"Group.name":             nameField,
	"Group.personIds":        {Title: "People"},
	"Group.departmentIds":    {Title: "Departments"},
	"Proofs.name":            nameField,
	"Proofs.kind":            {Title: "What is wanted"},
	"Proofs.doorIds":         {Title: "Doors"},
	"Proofs.scheduleId":      {Title: "When it holds"},
	"Proofs.both":            {Title: "On the way out too"},
	"Proofs.window":          {Title: "The next one within", Unit: "s", Min: 5, Max: 120},
	"Proofs.combinations":    {Title: "Combinations"},
	"Proofs.off":             {Title: "Not in use"},
	"Combination.total":      {Title: "People in all"},
	"Combination.parts":      {Title: "Parts"},
	"Combination.listed":     {Title: "In this order"},
	"Part.groupId":           {Title: "Group"},
	"Part.count":             {Title: "People"},
	"Door.points":            {Title: "Terminals"},
	"Door.outOfUse":          {Title: "Out of use"},
	"Door.order":             {Title: "Order on its floor", Max: 10_000},
	"Door.supplyId":          {Title: "Fed by"},
	"Door.metres":            {Title: "Cable to the lock", Unit: "m", Max: 1000},
	"Door.gauge":             {Title: "Wire", Unit: "AWG"},
	"Door.exitKind":          {Title: "Exit device"},
	"Door.volts":             {Title: "Lock voltage", Unit: "V", Max: 48},
	"Door.milliamps":         {Title: "Lock current", Unit: "mA", Max: 10_000},
	"Door.tolerance":         {Title: "Works down to minus", Unit: "%", Max: 50},
	"Door.fireDoor":          {Title: "Fire door"},
	"Door.monitored":         {Title: "Lock is monitored"},
	"Door.in":                {Title: "Reader in"},
	"Door.out":               {Title: "Reader out"},
	"Door.lock":              {Title: "Lock"},
	"Door.failSafe":          {Title: "Fail-safe"},
	"Door.contact":           {Title: "Door contact"},
	"Door.exit":              {Title: "Exit request"},
	"Door.contactSupervised": {Title: "Contact supervised"},
	"Door.exitSupervised":    {Title: "Exit request supervised"},
	"Door.exitReleases":      {Title: "The exit request releases the lock"},
	"Door.relock":            {Title: "Locks again"},
	"Door.unlock":            {Title: "Unlock time", Unit: "s", Min: 1, Max: 600},
	"Door.extended":          {Title: "Extended unlock time", Unit: "s", Min: 1, Max: 600},
	"Door.exitTime":          {Title: "Exit time", Unit: "s", Min: 1, Max: 600},
	"Door.heldOpen":          {Title: "Held open after", Unit: "s", Min: 5, Max: 3600},
	"Door.preAlarm":          {Title: "Warning before", Unit: "s", Max: 600},
	"Door.forced":            {Title: "Forced delay", Unit: "s", Max: 30},

	"FirstCard.who":       {Title: "Who gives it"},
	"FirstCard.counts":    {Title: "Counts"},
	"FirstCard.before":    {Title: "Before the start", Unit: "min", Max: 720},
	"FirstCard.untilThen": {Title: "Until then"},
	"FirstCard.often":     {Title: "How often"},
	"FirstCard.length":    {Title: "Free for"},
	"FirstCard.minutes":   {Title: "Free for", Unit: "min", Min: 1, Max: 720},

	"HolidayType.name":      nameField,
	"HolidayType.rank":      {Title: "Rank", Max: 1000},
	"HolidayType.plans":     {Title: "Passage plans"},
	"HolidayType.schedules": {Title: "Schedules"},

	"Holiday.name":    nameField,
	"Holiday.typeId":  {Title: "Type"},
	"Holiday.siteIds": {Title: "Sites"},
	"Holiday.start":   {Title: "From"},
	"Holiday.end":     {Title: "Until"},
	"Holiday.kind":    {Title: "When"},
	"Holiday.dates":   {Title: "Dates"},
	"Holiday.month":   {Title: "Month"},
	"Holiday.day":     {Title: "Day"},
	"Holiday.nth":     {Title: "Which"},
	"Holiday.weekday": {Title: "Weekday"},
	"Holiday.offset":  {Title: "Days after Easter", Unit: "d"},
	"Holiday.days":    {Title: "Days"},

	"Schedule.name":     nameField,
	"Schedule.week":     {Title: "Week"},
	"Schedule.holidays": {Title: "Holidays"},
	"Schedule.fixed":    {Title: "Fixed"},

	"Plan.name":     nameField,
	"Plan.default":  {Title: "Default mode"},
	"Plan.week":     {Title: "Week"},
	"Plan.holidays": {Title: "Holidays"},

	"DoorSet.name":    nameField,
	"DoorSet.doorIds": {Title: "Doors"},

	"DatedChange.name":     nameField,
	"DatedChange.mode":     {Title: "The doors are"},
	"DatedChange.doorIds":  {Title: "Doors"},
	"DatedChange.floorIds": {Title: "Floors"},
	"DatedChange.siteIds":  {Title: "Sites"},
	"DatedChange.setIds":   {Title: "Door sets"},
	"DatedChange.from":     {Title: "From", Pattern: patternWall},
	"DatedChange.until":    {Title: "Until", Pattern: patternWall},
	"DatedChange.recurs":   {Title: "Recurs"},
	"DatedChange.except":   {Title: "Left out"},
	"DatedChange.ended":    {Title: "Ended"},

	"Level.name":     nameField,
	"Level.entries":  {Title: "Where and when"},
	"Level.includes": {Title: "Contains"},
	"Level.opensDay": {Title: "Opens the day"},
	"Level.approves": {Title: "Approves others"},
	"Level.toggles":  {Title: "May toggle doors"},

	"Entry.target":     {Title: "Place"},
	"Entry.scheduleId": {Title: "Schedule"},
	"Entry.except":     {Title: "Left out"},
	"Target.kind":      {Title: "Place"},
	"Target.id":        {Title: "Place"},
	"Target.out":       {Title: "Reader out"},

	"Department.name":         nameField,
	"Department.levels":       {Title: "Access levels"},
	"Department.alwaysPin":    {Title: "Always with PIN"},
	"Department.extendedTime": {Title: "Needs longer to pass"},

	"Person.name":          nameField,
	"Person.departmentIds": {Title: "Departments"},
	"Person.suspended":     {Title: "Suspended"},
	"Person.extendedTime":  {Title: "Needs longer to pass"},
	"Person.alwaysPin":     {Title: "Always with PIN"},
	"Person.pinInstead":    {Title: "PIN instead of a card"},
	"Person.credentials":   {Title: "Credentials"},
	"Person.levels":        {Title: "Access levels"},
	"Person.from":          {Title: "From", Pattern: patternWhen},
	"Person.until":         {Title: "Until", Pattern: patternWhen},
	"Person.number":        {Title: "Number", Max: 40},
	"Person.phone":         {Title: "Phone", Max: 40},
	"Person.email":         {Title: "E-mail", Max: 120},
	"Person.note":          {Title: "Note", Max: 2000},

	"Grant.levelId":    {Title: "Access level"},
	"Grant.target":     {Title: "Place"},
	"Grant.scheduleId": {Title: "Schedule"},
	"Grant.from":       {Title: "From", Pattern: patternWhen},
	"Grant.until":      {Title: "Until", Pattern: patternWhen},

	"Credential.kind":   {Title: "Kind"},
	"Credential.format": {Title: "Format"},
	"Credential.value":  {Title: "Number", Max: 200},
	"Credential.status": {Title: "Status"},
	"Credential.from":   {Title: "From", Pattern: patternWhen},
	"Credential.until":  {Title: "Until", Pattern: patternWhen},

	"FreeCard.kind":   {Title: "Kind"},
	"FreeCard.format": {Title: "Format"},
	"FreeCard.value":  {Title: "Number", Max: 200},
	"FreeCard.status": {Title: "Status"},
	"FreeCard.from":   {Title: "From", Pattern: patternWhen},
	"FreeCard.until":  {Title: "Until", Pattern: patternWhen},
}

// unitWords are units as they stand in a sentence.
var unitWords = map[string]string{"s": " seconds", "min": " minutes"}

// within says where a number is outside the limits of its field, Type.field; path is the field as the API names it.
func (fs *Faults) within(name, path string, v int) {
	f := Fields[name]
	fs.add(v < f.Min || v > f.Max, path, "%d is outside %d to %d%s", v, f.Min, f.Max, unitWords[f.Unit])
}

// short says where a text is longer than its field may be.
func (fs *Faults) short(name, path, v string) {
	fs.add(len([]rune(v)) > Fields[name].Max, path, "at most %d letters", Fields[name].Max)
}
