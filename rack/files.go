package rack

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"amberkeystone/core/pass"

	"amberkeystone/core/image"
	"amberkeystone/link"
)

// What a unit keeps, all in one folder and each with what proves it whole:
//
//	SERIAL.identity       its lasting key
//	SERIAL.json           its state, with a checksum
//	SERIAL-HASH.image     what it holds, named by its hash
//	SERIAL-LOG.log        its log, a checksum on each line
//
// The state decides: an image or a log that it does not name is left over. What a later step needs is on disk before
// that step is taken, so that power may go anywhere.

// kept is the state of a unit.
type kept struct {
	Key    *link.Key     `json:"key,omitempty"`
	Maybe  *provisional  `json:"maybe,omitempty"`
	Hash   string        `json:"hash,omitempty"` // root of the image that it holds
	Offset time.Duration `json:"offset"`         // of its clock to the machine's
	Log    string        `json:"log"`
	Acked  uint64        `json:"acked"`
	Seq    uint64        `json:"seq"`              // never less than the last acknowledged event
	Lost   int           `json:"lost,omitempty"`   // damaged lines of its log that it has not told yet
	Memory []byte        `json:"memory,omitempty"` // what its rules remember

	Firmware    string `json:"firmware,omitempty"`
	Interrupted string `json:"interrupted,omitempty"` // the firmware that did not arrive whole
	Address     string `json:"address,omitempty"`     // that it was given; else its spec's

	Image []byte `json:"image,omitempty"` // as it was kept by earlier versions
}

// provisional is a key that nobody has proved to have yet.
type provisional struct {
	Key  link.Key `json:"key"`
	Code string   `json:"code"`
}

// sealed is a state with its checksum, as it stands in the file. Earlier versions wrote the state alone.
type sealed struct {
	Sum  string          `json:"sum"`
	Kept json.RawMessage `json:"kept"`
}

var castagnoli = crc32.MakeTable(crc32.Castagnoli)

// checksum is CRC-32C (RFC 3720, 12.1), in hexadecimal.
func checksum(b []byte) string { return fmt.Sprintf("%08x", crc32.Checksum(b, castagnoli)) }

func (u *unit) path(rest string) string { return filepath.Join(u.dir, u.Serial+rest) }

func (u *unit) statePath() string { return u.path(".json") }
func (u *unit) logPath() string   { return u.path("-" + u.kept.Log + ".log") }
func (u *unit) imagePath(hash string) string {
	return u.path("-" + hash[:min(16, len(hash))] + ".image")
}

// readState reads the state; there is none in a new unit.
func (u *unit) readState() error {
	b, err := os.ReadFile(u.statePath())
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	var s sealed
	if err := json.Unmarshal(b, &s); err != nil {
		return fmt.Errorf("its state is damaged: %w", err)
	}
	switch {
	case s.Kept == nil: // of an earlier version
		s.Kept = b
	case checksum(s.Kept) != s.Sum:
		return errors.New("its state is damaged: the checksum is wrong")
	}
	if err := json.Unmarshal(s.Kept, &u.kept); err != nil {
		return fmt.Errorf("its state is damaged: %w", err)
	}
	if u.kept.Image != nil { // of an earlier version
		u.kept.Hash = image.Hash(u.kept.Image)
		if err := writeFile(u.imagePath(u.kept.Hash), u.kept.Image); err != nil {
			return err
		}
		u.kept.Image = nil
	}
	return nil
}

// save puts the state on disk.
func (u *unit) save() error {
	b, err := json.Marshal(u.kept)
	if err != nil {
		return err
	}
	if b, err = json.Marshal(sealed{checksum(b), b}); err != nil {
		return err
	}
	return writeFile(u.statePath(), b)
}

// readImage reads what the unit holds; nothing where the file is not what the state says.
func (u *unit) readImage() (*image.Image, error) {
	b, err := os.ReadFile(u.imagePath(u.kept.Hash))
	if err != nil {
		return nil, err
	}
	if image.NameOf(b) != u.kept.Hash {
		return nil, errors.New("what it held is damaged")
	}
	return image.Parse(b)
}

// line is an event as it stands in the log: checksum, hash of the image in force, event.
func line(held string, event []byte) []byte {
	if held == "" {
		held = "-"
	}
	body := append(append([]byte(held), ' '), event...)
	return append(append(append([]byte(checksum(body)), ' '), body...), '\n')
}

// entry is an event of the log that is not acknowledged yet.
type entry struct {
	seq   uint64
	held  string // hash of the image that was in force
	event json.RawMessage
}

// readLine reads a line of the log; ok is false where it is damaged. Lines of earlier versions have no checksum.
func readLine(b []byte) (e entry, ok bool) {
	if !bytes.HasPrefix(b, []byte("{")) {
		sum, body, _ := bytes.Cut(b, []byte(" "))
		if checksum(body) != string(sum) {
			return e, false
		}
		held, event, _ := bytes.Cut(body, []byte(" "))
		e.held, b = strings.Trim(string(held), "-"), event
	}
	var x pass.Fact
	if json.Unmarshal(b, &x) != nil {
		return e, false
	}
	e.seq, e.event = x.Seq, bytes.Clone(b)
	return e, true
}

// numbersLeft is how many numbers a log that was damaged leaves free, so that none that was used is used again.
const numbersLeft = 1000

// openLog reads the events that are kept and drops those acknowledged. Damaged lines are counted, and the log that has
// some is laid aside.
func (u *unit) openLog() error {
	if err := os.Rename(u.path(".log"), u.logPath()); err != nil &&
		!errors.Is(err, fs.ErrNotExist) { // of an earlier version
		return err
	}
	b, err := os.ReadFile(u.logPath())
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	u.pending = nil
	var keep bytes.Buffer
	lost, whole := 0, 0
	for l := range bytes.Lines(b) {
		text, ended := bytes.CutSuffix(l, []byte("\n"))
		e, ok := readLine(text)
		if !ok {
			lost++
			if ended { // else it was being written when the power went, and nobody has heard of it
				whole++
			}
			continue
		}
		u.kept.Seq = max(u.kept.Seq, e.seq)
		if e.seq > u.kept.Acked {
			u.pending = append(u.pending, e)
			keep.Write(line(e.held, e.event))
		}
	}
	if lost > 0 {
		u.kept.Lost += lost
		if whole > 0 {
			u.kept.Seq += numbersLeft
		}
		aside := u.path(fmt.Sprintf("-%s.damaged-%d", u.kept.Log, u.kept.Seq))
		if err := errors.Join(writeFile(aside, b), u.save()); err != nil {
			return err
		}
	}
	if err := writeFile(u.logPath(), keep.Bytes()); err != nil {
		return err
	}
	u.log, err = os.OpenFile(u.logPath(), os.O_APPEND|os.O_WRONLY, 0o600)
	return err
}

// tidy removes logs and images that the state does not name. What was laid aside as damaged stays.
func (u *unit) tidy() error {
	var all []string
	for _, end := range []string{".log", ".image"} {
		names, err := filepath.Glob(u.path("-" + strings.Repeat("[0-9a-f]", 16) + end))
		if err != nil {
			return err
		}
		all = append(all, names...)
	}
	var err error
	for _, name := range all {
		if name != u.logPath() && (u.kept.Hash == "" || name != u.imagePath(u.kept.Hash)) {
			err = errors.Join(err, os.Remove(name))
		}
	}
	return err
}

// readIdentity reads the unit's lasting key, or makes it. It stays when the unit is erased.
func (u *unit) readIdentity() error {
	b, err := os.ReadFile(u.path(".identity"))
	if errors.Is(err, fs.ErrNotExist) {
		u.identity = link.NewIdentity()
		return writeFile(u.path(".identity"), u.identity.Seed())
	}
	if err != nil {
		return err
	}
	u.identity, err = link.IdentityFrom(b)
	return err
}

// writeFile replaces a file whole: after a power cut it is the old one or the new one, and once it returns the new.
func writeFile(path string, b []byte) error {
	f, err := os.OpenFile(path+".new", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = f.Write(b)
	if err := errors.Join(err, f.Sync(), f.Close()); err != nil {
		return err
	}
	if err := os.Rename(path+".new", path); err != nil {
		return err
	}
	dir, err := os.Open(filepath.Dir(path))
	if err != nil {
		return err
	}
	return errors.Join(dir.Sync(), dir.Close())
}
