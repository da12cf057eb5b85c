package server

import (
	"bufio"
	"os"
	"slices"
	"strings"
	"sync"
)

// usual are offered where the machine has no list of its own.
var usual = []string{
	"UTC",
	"America/Halifax",
	"America/St_Johns",
	"America/New_York",
	"America/Chicago",
	"America/Denver",
	"America/Los_Angeles",
	"America/Toronto",
	"America/Sao_Paulo",
	"Europe/London",
	"Europe/Dublin",
	"Europe/Lisbon",
	"Europe/Paris",
	"Europe/Berlin",
	"Europe/Athens",
	"Africa/Johannesburg",
	"Africa/Lagos",
	"Asia/Dubai",
	"Asia/Kolkata",
	"Asia/Singapore",
	"Asia/Tokyo",
	"Australia/Sydney",
	"Pacific/Auckland",
}

// zoneNames lists the zones of the machine's IANA database; any other name that the database knows may be typed.
var zoneNames = sync.OnceValue(func() []string {
	f, err := os.Open("/usr/share/zoneinfo/tzdata.zi")
	if err != nil {
		return usual
	}
	defer f.Close()
	var out []string
	sc := bufio.NewScanner(f)
	for sc.Scan() {
		parts := strings.Fields(sc.Text())
		if len(parts) > 1 && parts[0] == "Z" && strings.Contains(parts[1], "/") {
			out = append(out, parts[1])
		}
	}
	if len(out) == 0 {
		return usual
	}
	slices.Sort(out)
	return append(out, "UTC")
})

// zoneVersion is the version of the machine's time zone data; the embedded data is used where there is none.
var zoneVersion = sync.OnceValue(func() string {
	f, err := os.Open("/usr/share/zoneinfo/tzdata.zi")
	if err != nil {
		return "embedded"
	}
	defer f.Close()
	line, err := bufio.NewReader(f).ReadString('\n')
	if err != nil || !strings.HasPrefix(line, "# version ") {
		return "of this machine"
	}
	return strings.TrimSpace(strings.TrimPrefix(line, "# version "))
})
