package site

import (
	"cmp"
	"slices"
)

// check says what is wrong with a reader; path is in. or out.
func (r *Reader) check(fs *Faults, path string) {
	for _, k := range r.Takes {
		fs.add(!oneOf(k, CredentialKinds...) || k == Card, path+"takes", "%q is nothing that a reader takes besides cards", k)
	}
	fs.add(r.Connection != "" && !oneOf(r.Connection, Wiegand, OSDP), path+"connection",
		"%q is no way to connect a reader", r.Connection)
	fs.within("Reader.address", path+"address", r.Address)
	fs.add(r.Baud != 0 && !slices.Contains(Bauds, r.Baud), path+"baud", "%d is no rate of an OSDP bus; use 9600", r.Baud)
	fs.add(r.Connection != OSDP && (r.Address != 0 || r.Baud != 0), path+"address",
		"only an OSDP reader has an address and a rate")
	for i, f := range r.Formats {
		fs.add(slices.Contains(r.Formats[:i], f), path+"formats", "%s is listed twice", f)
	}
}

// check says what is wrong with what stands on the lock.
func (h *Hardware) check(fs *Faults) {
	fs.within("Door.volts", "volts", h.Volts)
	fs.within("Door.milliamps", "milliamps", h.Milliamps)
	fs.within("Door.tolerance", "tolerance", h.Tolerance)
	fs.add(h.ExitKind != "" && !oneOf(h.ExitKind, ExitButton, ExitMotion, ExitLock, ExitTouchless), "exitKind",
		"%q is no exit device", h.ExitKind)
	fs.add(h.Exit == NotFitted && h.ExitSupervised, "exitSupervised",
		"there is no exit request to supervise; say how it is wired first")
	fs.add(h.Contact == NotFitted && h.ContactSupervised, "contactSupervised",
		"there is no contact to supervise; say how it is wired first")
}

// DecidingOnly returns the door without what decides nothing at the controller, so that a change of that sends nothing.
func (d Door) DecidingOnly() Door {
	d.Name, d.Outside, d.Inside, d.Order, d.NotFromAfar = "", "", "", 0, false
	d.SupplyID, d.Cable = 0, Cable{}
	d.Volts, d.Milliamps, d.Tolerance, d.FireDoor, d.Monitored = 0, 0, 0, false, false
	d.In.Enrols, d.Out.Enrols = false, false
	return d
}

// Takes returns the formats of the settings that a reader takes.
func (s *Settings) Takes(r *Reader) []CardFormat {
	if len(r.Formats) == 0 {
		return s.Cards
	}
	var out []CardFormat
	for _, c := range s.Cards {
		if slices.Contains(r.Formats, c.Format) {
			out = append(out, c)
		}
	}
	return out
}

// Kind returns the exit device.
func (h *Hardware) Kind() ExitKind { return cmp.Or(h.ExitKind, ExitButton) }

// Features names what a reader needs of its controller's firmware, as releases say it.
func (r *Reader) Features() (out []string) {
	if r.Connection == OSDP {
		out = append(out, "OSDP readers")
	}
	for _, k := range r.Takes {
		out = append(out, map[CredentialKind]string{Phone: "phones", QRPass: "QR passes", Plate: "plates"}[k])
	}
	return out
}
