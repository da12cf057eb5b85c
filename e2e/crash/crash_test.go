package crash

import (
	"context"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Ten rounds; make crash does a hundred.
func TestTenRounds(t *testing.T) {
	dir := t.TempDir()
	bin := filepath.Join(dir, "amber-keystone")
	out, err := exec.Command("go", "build", "-o", bin, "amberkeystone/cmd/amber-keystone").CombinedOutput()
	require.NoError(t, err, string(out))
	report, err := Run(
		context.Background(),
		Options{
			Bin: bin, Dir: filepath.Join(dir, "world"), Port: 26100, Rounds: 10, Seed: uint64(time.Now().UnixNano()),
			Log: t.Output(),
		},
	)
	require.NoError(t, err)
	t.Log(report)
	require.Empty(t, report.Findings)
	require.Positive(t, report.Saves)
	require.Positive(t, report.Events)
}
