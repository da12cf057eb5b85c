package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"os"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/store"
)

// What the library says of a request becomes a sentence that names the field.
func init() {
	plain := huma.NewError
	huma.NewError = func(status int, msg string, errs ...error) huma.StatusError {
		for _, err := range errs {
			if errors.Is(err, store.ErrFull) {
				return plain(http.StatusInsufficientStorage, "Not saved: "+store.ErrFull.Error()+".")
			}
		}
		switch {
		case status == http.StatusInternalServerError && cutOff(errs):
			return plain(
				http.StatusRequestTimeout,
				"The request ended before it was whole; nothing was written. Send it again.",
			)
		case status == http.StatusInternalServerError:
			slog.Error("an answer failed", "err", errors.Join(errs...))
			return plain(status, "Something went wrong here; nothing was written.")
		case msg == "request body is required":
			msg = "Nothing was sent: write the fields of this operation as JSON into the body."
			errs = []error{&huma.ErrorDetail{Location: "body", Message: "write the fields as JSON"}}
		}
		for i, err := range errs {
			errs[i] = named(err)
		}
		return plain(status, msg, errs...)
	}
}

// cutOff reports whether the other side went away, or was too slow, while it was being read.
func cutOff(errs []error) bool {
	err := errors.Join(errs...)
	return errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, os.ErrDeadlineExceeded) ||
		errors.Is(err, context.Canceled)
}

// named gives a detail about the body as a whole the place of the field that it names.
func named(err error) error {
	d, ok := err.(*huma.ErrorDetail)
	if !ok || d.Location != "body" || !strings.HasPrefix(d.Message, "body.") {
		return err
	}
	field, words, _ := strings.Cut(d.Message, ": ")
	return &huma.ErrorDetail{Location: field, Message: words}
}

// jsonFormat is JSON whose reader speaks of fields, not of Go.
var jsonFormat = huma.Format{
	Marshal: huma.DefaultJSONFormat.Marshal,
	Unmarshal: func(b []byte, v any) error {
		err := huma.DefaultJSONFormat.Unmarshal(b, v)
		var syntax *json.SyntaxError
		var kind *json.UnmarshalTypeError
		switch {
		case errors.As(err, &kind):
			field := "body"
			if kind.Field != "" {
				field += "." + kind.Field
			}
			return fmt.Errorf("%s: a %s does not fit here; write %s", field, kind.Value, kindWords(kind))
		case errors.As(err, &syntax):
			return fmt.Errorf("this is not JSON: at position %d something else was expected", syntax.Offset)
		case errors.Is(err, io.ErrUnexpectedEOF):
			return errors.New("this is not JSON: it ends too early")
		}
		return err
	},
}

func kindWords(e *json.UnmarshalTypeError) string {
	switch name := e.Type.Kind().String(); {
	case strings.HasPrefix(name, "int"):
		return "a whole number"
	case strings.HasPrefix(name, "uint"):
		return "a whole number from 0 on"
	case name == "bool":
		return "true or false"
	case name == "string":
		return "text in quotes"
	case name == "slice" || name == "array":
		return "a list"
	}
	return "an object with its fields"
}
