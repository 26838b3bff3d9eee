package store

import (
	"runtime"
	"syscall"
)

// writerNiceness lets the kernel run every other thread first when all cores are busy.
const writerNiceness = 10

// giveWay puts the calling goroutine on a thread of its own with a lower priority, so that keeping records
// delays nobody who moves a lamp. Where it is not allowed, nothing is lost but that.
func giveWay() {
	runtime.LockOSThread()
	_ = syscall.Setpriority(syscall.PRIO_PROCESS, syscall.Gettid(), writerNiceness)
}
