package sitefile

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
)

// compiled is the schema, made ready once; only files that cannot be read ask it.
var compiled = sync.OnceValue(func() *jsonschema.Schema {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(Schema))
	if err != nil {
		panic(err) // it is part of the program, and tested
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("schema.json", doc); err != nil {
		panic(err)
	}
	return c.MustCompile("schema.json")
})

// explain says why a file could not be read: where its text breaks off, or which of its values have another shape than
// the schema has.
func explain(b []byte, err error) error {
	var syntax *json.SyntaxError
	switch {
	case len(bytes.TrimSpace(b)) == 0:
		return errors.New("site file: it is empty")
	case errors.Is(err, io.ErrUnexpectedEOF):
		return errors.New("site file: it ends too early; a bracket or a quotation mark is not closed")
	case errors.As(err, &syntax):
		return fmt.Errorf("site file, %s: %w", position(b, syntax.Offset), err)
	}
	doc, bad := jsonschema.UnmarshalJSON(bytes.NewReader(b))
	if bad != nil {
		return fmt.Errorf("site file: %w", bad)
	}
	var wrong *jsonschema.ValidationError
	var lines []error
	if errors.As(compiled().Validate(doc), &wrong) {
		lines = shapes(nil, doc, wrong, err)
	}
	lines = outsized(lines, doc, doc, nil)
	var typed *json.UnmarshalTypeError
	switch {
	case len(lines) > 0:
		return errors.Join(lines...)
	case errors.As(err, &typed):
		return fmt.Errorf("site file, %s: it cannot be %s", typed.Field, typed.Value)
	}
	return fmt.Errorf("site file: %w", err)
}

// position is where in a text a byte is, as editors count.
func position(b []byte, offset int64) string {
	before := b[:min(max(offset-1, 0), int64(len(b)))]
	line := bytes.Count(before, []byte("\n")) + 1
	column := len([]rune(string(before[bytes.LastIndexByte(before, '\n')+1:]))) + 1
	return fmt.Sprintf("line %d, column %d", line, column)
}

// shapes collects what has another shape than the schema wants; what else the schema finds is said better by the core.
// A text of which the reader itself complained is placed.
func shapes(out []error, doc any, e *jsonschema.ValidationError, read error) []error {
	for _, cause := range e.Causes {
		out = shapes(out, doc, cause, read)
	}
	at := placed(doc, e.InstanceLocation)
	switch k := e.ErrorKind.(type) {
	case *kind.Type:
		out = append(out, fmt.Errorf("%s: it is %s; write %s", at, ofJSON[k.Got], typeWords(k.Want)))
	case *kind.AdditionalProperties:
		for _, name := range k.Properties {
			out = append(out, fmt.Errorf("%s: %q is no field of it; take it out, or mend its name", at, name))
		}
	case *kind.Enum:
		out = append(out, fmt.Errorf("%s: it is %s; write %s", at, inJSON(k.Got), oneOf(k.Want)))
	case *kind.Minimum:
		out = append(out, fmt.Errorf("%s: it is %s; write %s or more", at, k.Got.RatString(), k.Want.RatString()))
	case *kind.Pattern:
		if strings.HasPrefix(read.Error(), strconv.Quote(k.Got)) {
			out = append(out, fmt.Errorf("%s: %w", at, read))
		}
	}
	return out
}

// outsized adds the numbers that are larger than any that is meant.
func outsized(out []error, doc, v any, path []string) []error {
	switch v := v.(type) {
	case json.Number:
		if f, err := v.Float64(); err != nil || math.Abs(f) > math.MaxUint64 {
			out = append(out, fmt.Errorf("%s: %s is far too large", placed(doc, path), v))
		}
	case []any:
		for i, x := range v {
			out = outsized(out, doc, x, append(path[:len(path):len(path)], strconv.Itoa(i)))
		}
	case map[string]any:
		for _, k := range slices.Sorted(maps.Keys(v)) {
			out = outsized(out, doc, v[k], append(path[:len(path):len(path)], k))
		}
	}
	return out
}

func inJSON(v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		return fmt.Sprint(v)
	}
	return string(b)
}

// oneOf lists values that may be written.
func oneOf(values []any) string {
	var out []string
	for _, v := range values {
		out = append(out, inJSON(v))
	}
	if n := len(out) - 1; n > 0 {
		return strings.Join(out[:n], ", ") + " or " + out[n]
	}
	return strings.Join(out, "")
}

var ofJSON = map[string]string{
	"null": "null", "boolean": "true or false", "integer": "a whole number", "number": "a number", "string": "a text",
	"array": "a list", "object": "an object",
}

func typeWords(types []string) string {
	var out []string
	for _, t := range types {
		if t != "null" || len(types) == 1 {
			out = append(out, ofJSON[t])
		}
	}
	return strings.Join(out, " or ")
}

// placed says where in a document something is, as "doors[3] (Quay entrance), lock".
func placed(doc any, path []string) string {
	out := ""
	for _, part := range path {
		switch v := doc.(type) {
		case []any:
			var i int
			if _, err := fmt.Sscan(part, &i); err != nil || i < 0 || i >= len(v) {
				return out
			}
			doc = v[i]
			out += "[" + part + "]"
			if x, ok := doc.(map[string]any); ok {
				if name, ok := x["name"].(string); ok && name != "" {
					out += " (" + name + ")"
				}
			}
		case map[string]any:
			doc = v[part]
			switch {
			case out == "":
			case strings.HasSuffix(out, ")"):
				out += ", "
			default:
				out += "."
			}
			out += part
		}
	}
	if out == "" {
		return "site file"
	}
	return out
}
