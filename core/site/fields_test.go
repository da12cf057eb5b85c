package site

import (
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// described are the types whose fields are described, each with a value that is in order.
var described = map[string]any{
	"Settings": DefaultSettings(), "CardFormat": CardFormat{}, "Site": Site{}, "Floor": Floor{},
	"Controller": Controller{}, "OwnFormat": OwnFormat{}, "Facility": Facility{}, "Expander": Expander{},
	"Network": Network{}, "Input": Input{}, "Output": Output{}, "Supply": Supply{}, "Reader": Reader{},
	"Door": Door{Port: 1, Hardware: UsualHardware()}, "FirstCard": UsualFirstCard(), "HolidayType": HolidayType{},
	"Holiday": Holiday{}, "Schedule": Schedule{}, "Plan": Plan{}, "DoorSet": DoorSet{}, "DatedChange": DatedChange{},
	"Level": Level{}, "Entry": Entry{}, "Target": Target{}, "Person": Person{}, "Grant": Grant{},
	"Credential": Credential{},
	"Department": Department{}, "FreeCard": FreeCard{},
	"Toggle": UsualToggle(), "Interlock": Interlock{}, "Area": Area{Mode: PassbackOff}, "Group": Group{},
	"Proofs": Proofs{}, "Combination": Combination{}, "Part": Part{}, "Screening": Screening{Lasts: LastsHours},
	"Emergency": Emergency{Does: Lockdown}, "Car": Car{}, "Callout": Callout{}, "Reaction": UsualReaction(0, 1),
	"AlarmArea": UsualAlarmArea(1), "Watched": Watched{}, "Stop": Stop{}, "Ride": Ride{},
}

// byJSON finds a field of a struct by the name that the API gives it.
func byJSON(v reflect.Value, name string) (reflect.Value, bool) {
	for i := range v.NumField() {
		f := v.Type().Field(i)
		tag, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if f.Anonymous && tag == "" {
			if x, ok := byJSON(v.Field(i), name); ok {
				return x, true
			}
		}
		if tag == name {
			return v.Field(i), true
		}
	}
	return reflect.Value{}, false
}

// Every field that the API shows has a title, every title is of a field, and what the description says of a number's
// limits is what Check refuses.
func TestFieldsAreWhatIsChecked(t *testing.T) {
	for name, f := range Fields {
		kind, field, _ := strings.Cut(name, ".")
		require.Contains(t, described, kind, name)
		v := reflect.New(reflect.TypeOf(described[kind])).Elem()
		v.Set(reflect.ValueOf(described[kind]))
		x, ok := byJSON(v, field)
		require.True(t, ok, "%s is a field of nothing", name)
		require.NotEmpty(t, f.Title, name)
		_, ok = v.Interface().(interface{ Check() Faults })
		if !ok || x.Kind() != reflect.Int || f.Max == 0 || name == "Door.port" { // a port's most is the controller's
			continue
		}
		for _, out := range []int{f.Min - 1, f.Max + 1} {
			x.SetInt(int64(out))
			check := v.Interface().(interface{ Check() Faults })
			refused := false
			for _, fault := range check.Check() {
				refused = refused || fault.Field == field || strings.HasSuffix(fault.Field, "."+field)
			}
			assert.True(t, refused, "%s = %d", name, out)
		}
	}
	for kind, v := range described {
		var walk func(t reflect.Type) []string
		walk = func(rt reflect.Type) (names []string) {
			for i := range rt.NumField() {
				f := rt.Field(i)
				if !f.IsExported() {
					continue
				}
				tag, _, _ := strings.Cut(f.Tag.Get("json"), ",")
				if f.Anonymous && tag == "" {
					names = append(names, walk(f.Type)...)
				} else if tag != "-" && tag != "id" || kind == "Target" && tag == "id" {
					names = append(names, tag)
				}
			}
			return names
		}
		for _, n := range walk(reflect.TypeOf(v)) {
			_, ok := Fields[kind+"."+n]
			assert.True(t, ok, "%s.%s has no title", kind, n)
		}
	}
}
