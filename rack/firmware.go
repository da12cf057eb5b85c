package rack

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"time"

	"amberkeystone/link"
)

// FirstFirmware is what a new stand-in runs.
const FirstFirmware = "1.0"

//go:embed releases/*.json
var shipped embed.FS

// Releases reads the releases that lie in a rack's folder, oldest first. A new folder gets those that ship with it.
func Releases(dir string) ([]link.Release, error) {
	folder := filepath.Join(dir, "releases")
	if _, err := os.Stat(folder); errors.Is(err, fs.ErrNotExist) {
		if err := os.CopyFS(dir, shipped); err != nil {
			return nil, err
		}
	}
	files, err := filepath.Glob(filepath.Join(folder, "*.json"))
	if err != nil {
		return nil, err
	}
	var out []link.Release
	for _, name := range files {
		b, err := os.ReadFile(name)
		if err != nil {
			return nil, err
		}
		var r link.Release
		if err := json.Unmarshal(b, &r); err != nil || r.Version == "" {
			slog.Warn("a release of firmware cannot be read; it is left out", "file", name, "err", err)
			continue
		}
		out = append(out, r)
	}
	slices.SortFunc(out, func(a, b link.Release) int { return link.CompareVersions(a.Version, b.Version) })
	return out, nil
}

// updating is a new firmware on its way. The doors go on deciding: only the end is a restart.
type updating struct {
	release link.Release
	percent int
}

// updateSteps is how many pieces an update is written in.
const updateSteps = 20

func (u *unit) partPath() string { return u.path(".firmware-part") }

// beginUpdate starts to take a release; it goes on by itself.
func (u *unit) beginUpdate(version string) error {
	switch {
	case u.update != nil:
		return fmt.Errorf("%s is being updated to %s already", u.Serial, u.update.release.Version)
	case u.dark:
		return errors.New("it has no power")
	}
	i := slices.IndexFunc(u.releases, func(r link.Release) bool { return r.Version == version })
	if i < 0 {
		return fmt.Errorf("there is no release %s in the rack's folder", version)
	}
	r := u.releases[i]
	u.kept.Interrupted = version // until it is whole
	u.update = &updating{release: r}
	if err := u.save(); err != nil {
		return err
	}
	go u.runUpdate(r)
	return nil
}

func (u *unit) runUpdate(r link.Release) {
	step := time.Duration(r.Seconds) * time.Second / updateSteps
	for n := range updateSteps {
		time.Sleep(step)
		u.mu.Lock()
		if u.closed || u.dark || u.update == nil { // the power went: the old firmware is whole
			u.update = nil
			u.signal()
			u.mu.Unlock()
			return
		}
		u.update.percent = 100 * (n + 1) / updateSteps
		err := os.WriteFile(u.partPath(), fmt.Appendf(nil, "%s %d", r.Version, u.update.percent), 0o600)
		u.signal()
		u.mu.Unlock()
		if err != nil {
			slog.Error("an update is not written", "unit", u.Serial, "err", err)
		}
	}
	u.mu.Lock()
	defer u.mu.Unlock()
	defer u.alone()
	u.update = nil
	u.kept.Firmware, u.kept.Interrupted = r.Version, ""
	if err := errors.Join(u.save(), os.Remove(u.partPath())); err != nil {
		slog.Error("an update is not kept", "unit", u.Serial, "err", err)
	}
	u.restart()
}
