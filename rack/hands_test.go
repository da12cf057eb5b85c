package rack

import (
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/link"
)

// The circuit of an input follows its switch, the resistors at its end, and what somebody did to its wire.
func TestWires(t *testing.T) {
	w := newWorld(Spec{Serial: "AK-1", Model: "Stand-in 1", Ports: 1})
	contact := point.At(point.Input, 1)
	assert.Equal(t, point.Closed, w.circuits()[contact])
	w.fit(&image.Image{Doors: []site.Door{
		{Port: 1, Hardware: site.Hardware{Contact: site.NormallyClosed, ContactSupervised: true}},
	},
		Expanders: []site.Expander{{Address: 3, Kind: site.InputExpander}},
		Inputs:    []site.Input{{At: point.Address{Board: 3, Kind: point.Input, Number: 16}, Contact: site.NormallyClosed}}})
	for _, c := range []struct {
		do   string
		want point.Circuit
	}{{"close", point.One}, {"open", point.Two}, {"cut", point.Open}, {"short", point.Closed}, {"mend", point.Two}} {
		out, err := w.play("AK-1", &Hand{Do: c.do, Point: contact})
		require.NoError(t, err)
		assert.Equal(t, c.want, out[0].Circuit, c.do)
	}
	assert.Equal(t, point.Closed, w.circuits()[point.Address{Board: 3, Kind: point.Input, Number: 16}],
		"an expander of the image is there, and at rest")
	_, err := w.play("AK-1", &Hand{Do: "cut", Point: point.At(point.Input, 99)})
	assert.ErrorContains(t, err, "no terminal i99")
}

// What is played at a reader, the mains, the battery and the lid is told once, and told again when it is in order.
func TestOwnHardwareIsTold(t *testing.T) {
	w := newWorld(Spec{Serial: "AK-1", Model: "Stand-in 1", Ports: 1})
	at := point.At(point.Reader, 1)
	told := func(h Hand) (out []pass.Kind) {
		list, err := w.play("AK-1", &h)
		require.NoError(t, err)
		for _, in := range list {
			out = append(out, in.Tells)
		}
		return out
	}
	assert.Equal(t, []pass.Kind{pass.ReaderLost}, told(Hand{Do: "reader", Point: at}))
	assert.Empty(t, told(Hand{Do: "reader", Point: at}))
	assert.Empty(t, told(Hand{Do: "present", Point: at}), "a reader that does not answer reads nothing")
	assert.Equal(t, []pass.Kind{pass.ReaderBack}, told(Hand{Do: "reader", Point: at, On: true}))
	assert.Equal(t, []pass.Kind{pass.ReaderOpened}, told(Hand{Do: "cover", Point: at}))
	assert.Equal(t, []point.Address{at}, w.opened())
	assert.Equal(t, []pass.Kind{pass.ReaderClosed}, told(Hand{Do: "cover", Point: at, On: true}))
	assert.Equal(t, []pass.Kind{pass.MainsLost}, told(Hand{Do: "mains"}))
	assert.Equal(t, []pass.Kind{pass.BatteryLow}, told(Hand{Do: "battery"}))
	assert.Equal(t, []pass.Kind{pass.TamperOpened}, told(Hand{Do: "lid"}))
	assert.Equal(t, []pass.Kind{pass.MainsBack}, told(Hand{Do: "mains", On: true}))
}

// Releases lie in the rack's folder, oldest first; one that cannot be read is left out.
func TestReleases(t *testing.T) {
	dir := t.TempDir()
	list, err := Releases(dir)
	require.NoError(t, err)
	require.Len(t, list, 3)
	assert.Equal(t, FirstFirmware, list[0].Version)
	require.NoError(t,
		writeFile(filepath.Join(dir, "releases", "1.10.json"), []byte(`{"version":"1.10","seconds":1,"notes":["later"]}`)))
	require.NoError(t, writeFile(filepath.Join(dir, "releases", "bad.json"), []byte(`{`)))
	list, err = Releases(dir)
	require.NoError(t, err)
	assert.Equal(t, "1.10", list[3].Version, "1.10 comes after 1.2")
}

// An update goes on beside the work and ends in a restart; one whose power goes is told, and the old firmware goes on.
func TestFirmware(t *testing.T) {
	r, err := Open(filepath.Join(t.TempDir(), "rack"), "127.0.0.1:0", []Spec{
		{Serial: "AK-1", Model: "Stand-in 1", Ports: 1, Address: "127.0.0.1:0"},
	})
	require.NoError(t, err)
	defer r.Close()
	u := r.units[0]
	u.releases = []link.Release{{Version: "1.9", Seconds: 1}, {Version: "2.0", Seconds: 600}}
	begin := func(version string) error {
		u.mu.Lock()
		defer u.mu.Unlock()
		return u.beginUpdate(version)
	}
	status := func() link.Status {
		u.mu.Lock()
		defer u.mu.Unlock()
		return u.status()
	}
	assert.ErrorContains(t, begin("7"), "no release 7")
	require.NoError(t, begin("1.9"))
	assert.ErrorContains(t, begin("1.9"), "already")
	assert.Equal(t, "1.9", status().Updating)
	require.Eventually(t, func() bool { return status().Firmware == "1.9" }, 30*time.Second, 10*time.Millisecond)
	assert.Empty(t, status().Interrupted)

	u.releases[1].Seconds = 1
	require.NoError(t, begin("2.0"))
	require.NoError(t, u.hand(Hand{Do: "power"}))
	require.Eventually(t, func() bool { return status().Updating == "" }, 30*time.Second, 10*time.Millisecond)
	require.NoError(t, u.hand(Hand{Do: "power", On: true}))
	assert.Equal(t, "1.9", status().Firmware)
	assert.Equal(t, "2.0", status().Interrupted)
}

// A stand-in that is given another address answers there, also after it was started again.
func TestAddress(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "rack")
	specs := []Spec{{Serial: "AK-1", Model: "Stand-in 1", Ports: 1, Address: "127.0.0.1:0"}}
	r, err := Open(dir, "127.0.0.1:0", specs)
	require.NoError(t, err)
	u := r.units[0]
	u.mu.Lock()
	require.NoError(t, u.setAddress(link.Address{Fixed: true, IP: "127.0.0.77"}))
	assert.ErrorContains(t, u.setAddress(link.Address{Fixed: true, IP: "192.0.2.1"}), "cannot take the address")
	moved := u.Address
	u.mu.Unlock()
	assert.True(t, strings.HasPrefix(moved, "127.0.0.77:"), moved)
	c := Client{r.Address()}
	views, err := c.List()
	require.NoError(t, err)
	assert.Equal(t, moved, views[0].Address)
	require.NoError(t, r.Close())
	specs[0].Address = "127.0.0.1:0"
	r, err = Open(dir, "127.0.0.1:0", specs)
	require.NoError(t, err)
	defer r.Close()
	assert.Equal(t, moved, r.units[0].view().Address)
}
