//go:build unix

package service

import (
	"syscall"
	"time"
)

// cpuTime is what the process has computed so far: what a stage takes of it does not hang on what else the machine does.
func cpuTime() time.Duration {
	var r syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &r); err != nil {
		return 0
	}
	return time.Duration(r.Utime.Nano() + r.Stime.Nano())
}
