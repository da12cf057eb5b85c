package server

import (
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/site"
)

// describeFields gives the schemas of the configuration their titles, units and limits. They are told and not enforced
// by the schema: what is outside them is refused by the value's own Check, in a sentence.
func describeFields(api huma.API) {
	types := map[string]reflect.Type{}
	for _, v := range []any{
		site.Settings{}, site.CardFormat{}, site.Site{}, site.Floor{}, site.Controller{}, site.Reader{}, site.Door{},
		site.FirstCard{}, site.HolidayType{}, site.Holiday{}, site.Schedule{}, site.Plan{}, site.DoorSet{},
		site.DatedChange{}, site.Level{}, site.Entry{}, site.Target{}, site.Person{}, site.Grant{}, site.Credential{},
		site.Department{}, site.FreeCard{}, site.Input{}, site.Output{}, site.Supply{}, site.Expander{}, site.Network{},
		site.OwnFormat{}, site.Facility{}, site.Toggle{}, site.Interlock{}, site.Area{}, site.Group{}, site.Proofs{},
		site.Combination{}, site.Part{}, site.Screening{}, site.Emergency{}, site.Car{}, site.Stop{}, site.Ride{},
		site.Reaction{}, site.Callout{}, site.AlarmArea{}, site.Watched{},
	} {
		types[reflect.TypeOf(v).Name()] = reflect.TypeOf(v)
	}
	for name, schema := range api.OpenAPI().Components.Schemas.Map() {
		if types[name] == nil {
			continue
		}
		for field, s := range schema.Properties {
			f, ok := site.Fields[name+"."+field]
			if !ok {
				continue
			}
			s.Extensions = map[string]any{}
			if s.Ref != "" { // beside a reference a title counts in OpenAPI 3.1, and huma would not write it
				continue
			}
			s.Title = f.Title
			if f.Unit != "" {
				s.Extensions["x-unit"] = f.Unit
			}
			if f.Pattern != "" {
				s.Extensions["pattern"] = f.Pattern
			}
			if f.Max == 0 && f.Min == 0 {
				continue
			}
			if s.Type == huma.TypeString {
				s.Extensions["maxLength"] = f.Max
				continue
			}
			s.Extensions["minimum"], s.Extensions["maximum"] = f.Min, f.Max
		}
	}
}

// title is what people call a field of a kind's document, as Type.field; the field's own name where it has none.
func title(typeName, field string) string {
	if f, ok := site.Fields[typeName+"."+field]; ok {
		return f.Title
	}
	return strings.ToUpper(field[:1]) + field[1:]
}
