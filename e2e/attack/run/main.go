// Command run attacks a demo that it starts itself, and prints what came of it; it exits 1 where something was found.
package main

import (
	"bytes"
	"context"
	"flag"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"syscall"
	"time"

	"amberkeystone/demo"
	"amberkeystone/e2e/attack"
)

func main() {
	bin := flag.String("bin", "bin/amber-keystone", "the built program")
	port := flag.Int("port", 26400, "of the demo; its rack has the ones above")
	o := attack.Options{Log: os.Stdout, Wait: 3 * time.Minute}
	flag.IntVar(&o.Requests, "requests", 30000, "bent requests")
	flag.IntVar(&o.Slow, "slow", 200, "slow clients")
	flag.Uint64Var(&o.Seed, "seed", uint64(time.Now().UnixNano()), "to do the same again")
	flag.Parse()
	report, err := run(*bin, *port, o)
	fmt.Printf("%s (seed %d)\n", report, o.Seed)
	for _, f := range report.Findings {
		fmt.Println("found:", f)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
	}
	if err != nil || len(report.Findings) > 0 {
		os.Exit(1)
	}
}

func run(bin string, port int, o attack.Options) (attack.Report, error) {
	dir := filepath.Join(os.TempDir(), "keystone-attack")
	if err := os.RemoveAll(dir); err != nil {
		return attack.Report{}, err
	}
	var said bytes.Buffer
	c := exec.Command(
		bin,
		"demo",
		"--data",
		dir,
		"--listen",
		fmt.Sprintf("127.0.0.1:%d", port),
		"--rack-port",
		strconv.Itoa(port+2),
	)
	c.Stdout, c.Stderr = &said, &said
	c.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	if err := c.Start(); err != nil {
		return attack.Report{}, err
	}
	defer func() { _ = c.Process.Kill(); _ = c.Wait() }()
	t := attack.Target{
		URL:      fmt.Sprintf("http://127.0.0.1:%d", port),
		Name:     demo.SignIn.Name,
		Password: demo.SignIn.Password,
		Memory:   func() (int64, error) { return resident(c.Process.Pid) },
	}
	for range 400 {
		if r, err := http.Get(t.URL + "/api/session"); err == nil {
			r.Body.Close()
			break
		}
		time.Sleep(25 * time.Millisecond)
	}
	report, err := attack.Run(context.Background(), t, o)
	if c.ProcessState != nil {
		err = fmt.Errorf("the server is gone: %s", said.String())
	}
	return report, err
}

// resident is how much memory a process holds (proc(5), statm, the second field, in pages).
func resident(pid int) (int64, error) {
	b, err := os.ReadFile(fmt.Sprintf("/proc/%d/statm", pid))
	if err != nil {
		return 0, err
	}
	var size, pages int64
	if _, err := fmt.Sscan(string(b), &size, &pages); err != nil {
		return 0, err
	}
	return pages * int64(os.Getpagesize()), nil
}
