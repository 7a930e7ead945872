package cell

import (
	"fmt"
	"os"
	"runtime"
	"syscall"

	seccomp "github.com/elastic/go-seccomp-bpf"
	"github.com/landlock-lsm/go-landlock/landlock"
	"golang.org/x/sys/unix"
)

const (
	// maxMemory is how much memory a cell may take, in bytes.
	maxMemory = 768 << 20
	// lifetime is how much of a processor it may use until it is ended, in seconds.
	lifetime = 3600
	// openFiles is more than the runtime needs.
	openFiles = 64
	// nobody is the user under which cells run where the server runs as root.
	nobody = 65534
	// behind is by how much cells stand back when processors are short.
	behind = 5
)

// Confine takes from the process what no parser needs: another user's rights,
// files, network, programs, other processes, and more memory than it may have.
// What is open stays so; into a file of which it writes at most so many bytes.
// What the kernel does not know of is left out, but for the system calls.
func Confine(written uint64) error {
	if err := syscall.Setpriority(syscall.PRIO_PROCESS, 0, behind); err != nil {
		return fmt.Errorf("standing back: %w", err)
	}
	for resource, most := range map[int]uint64{unix.RLIMIT_DATA: maxMemory, unix.RLIMIT_CPU: lifetime, unix.RLIMIT_NOFILE: openFiles, unix.RLIMIT_FSIZE: written, unix.RLIMIT_CORE: 0} {
		if err := unix.Setrlimit(resource, &unix.Rlimit{Cur: most, Max: most}); err != nil {
			return fmt.Errorf("setting limits: %w", err)
		}
	}
	if err := DropRoot(); err != nil {
		return err
	}
	// Landlock: no file by any path, no ports, no signals to others.
	if err := landlock.V11.BestEffort().Restrict(); err != nil {
		return fmt.Errorf("giving up files: %w", err)
	}
	names := beyond
	if runtime.GOARCH == "amd64" {
		names = append(names, "open", "creat")
	}
	return forbidCalls(names)
}

// DropRoot turns root into a user who owns nothing; other users stay who they
// are. The process still ends with its parent.
func DropRoot() error {
	if os.Geteuid() != 0 {
		return nil
	}
	if err := syscall.Setgroups(nil); err != nil {
		return fmt.Errorf("leaving groups: %w", err)
	}
	if err := syscall.Setgid(nobody); err != nil {
		return fmt.Errorf("changing the group: %w", err)
	}
	if err := syscall.Setuid(nobody); err != nil {
		return fmt.Errorf("changing the user: %w", err)
	}
	return unix.Prctl(unix.PR_SET_PDEATHSIG, uintptr(syscall.SIGKILL), 0, 0, 0)
}

// beyond are the system calls by which a process reaches beyond itself.
var beyond = []string{
	"socket", "socketpair", "connect", "bind", "listen", "accept4", "openat", "openat2", "open_by_handle_at",
	"execve", "execveat", "ptrace", "process_vm_readv", "process_vm_writev", "kill", "pidfd_open", "pidfd_send_signal",
	"mount", "umount2", "pivot_root", "chroot", "unshare", "setns", "bpf", "perf_event_open", "keyctl", "add_key", "request_key",
	"io_uring_setup", "userfaultfd", "memfd_create", "shmget", "msgget", "semget", "init_module", "finit_module", "kexec_load", "reboot",
}

// forbidCalls refuses system calls to the process and all that it becomes.
func forbidCalls(names []string) error {
	filter := seccomp.Filter{NoNewPrivs: true, Flag: seccomp.FilterFlagTSync, Policy: seccomp.Policy{
		DefaultAction: seccomp.ActionAllow,
		Syscalls:      []seccomp.SyscallGroup{{Action: seccomp.ActionErrno, Names: names}},
	}}
	if err := seccomp.LoadFilter(filter); err != nil {
		return fmt.Errorf("giving up system calls: %w", err)
	}
	return nil
}
