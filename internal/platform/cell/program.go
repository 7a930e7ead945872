package cell

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"sync"
	"syscall"
	"time"

	"github.com/landlock-lsm/go-landlock/landlock"
	llsys "github.com/landlock-lsm/go-landlock/landlock/syscall"
	"golang.org/x/sys/unix"
)

// programName is what the process is called that becomes a foreign program.
const programName = "tabularis-program"

const (
	// programMemory is how many bytes a program may map, and programFile how large
	// a file it may write.
	programMemory = 4 << 30
	programFile   = 200 << 20
	// programTime is how much of a processor it may use, in seconds.
	programTime = 120
)

// system is what a program needs of the system it runs on, to be read only. What
// the practice keeps is not among it, nor what says how others run.
var system = []string{"/usr", "/lib", "/lib64", "/bin", "/sbin", "/opt", "/etc/fonts", "/etc/libreoffice", "/etc/alternatives", "/etc/ld.so.cache", "/etc/localtime", "/etc/locale.alias", "/etc/nsswitch.conf", "/etc/passwd", "/etc/group", "/var/cache/fontconfig", "/var/spool/libreoffice"}

// sockets is where LibreOffice insists on a socket by which it would find itself
// running. It may make sockets there, and remove what is its own user's.
const sockets = "/tmp"

// Folder makes a folder for a program to work in, which is removed by whoever
// asked for it.
func Folder(pattern string) (string, error) {
	dir, err := os.MkdirTemp("", pattern)
	if err == nil && os.Geteuid() == 0 {
		err = os.Chown(dir, nobody, nobody)
	}
	return dir, err
}

// Own gives a file in a program's folder to the user the program runs as.
func Own(f *os.File) error {
	if os.Geteuid() != 0 {
		return nil
	}
	return f.Chown(nobody, nobody)
}

// Command prepares a program that reads foreign content: it has one folder, in
// which it works, and else only what the system is made of; no network, no
// environment, an own user where the server is root, and limits for memory, time
// and files. With its process group everything that it started ends.
func Command(ctx context.Context, dir, program string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, "/proc/self/exe")
	cmd.Args, cmd.Dir = append([]string{programName, program}, args...), dir
	cmd.Env = []string{"HOME=" + dir, "TMPDIR=" + dir, "PATH=/usr/local/bin:/usr/bin:/bin", "LANG=C.UTF-8"}
	cmd.SysProcAttr = apart()
	cmd.Cancel = func() error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }
	cmd.WaitDelay = time.Second
	return cmd
}

// enterProgram turns the process into a foreign program, if it was started as
// one, and then never returns.
func enterProgram() {
	if len(os.Args) < 2 || os.Args[0] != programName {
		return
	}
	err := become(os.Args[1], os.Args[1:])
	fmt.Fprintln(os.Stderr, err)
	os.Exit(1)
}

func become(program string, args []string) error {
	dir, err := os.Getwd()
	if err != nil {
		return err
	}
	for resource, most := range map[int]uint64{unix.RLIMIT_AS: programMemory, unix.RLIMIT_FSIZE: programFile, unix.RLIMIT_CPU: programTime, unix.RLIMIT_CORE: 0} {
		if err := unix.Setrlimit(resource, &unix.Rlimit{Cur: most, Max: most}); err != nil {
			return fmt.Errorf("setting limits: %w", err)
		}
	}
	real, err := filepath.EvalSymlinks(program)
	if err != nil {
		return err
	}
	if err := DropRoot(); err != nil {
		return err
	}
	var folders, files []string
	for _, at := range append(slices.Clone(system), filepath.Dir(real)) {
		if info, err := os.Stat(at); err == nil && info.IsDir() {
			folders = append(folders, at)
		} else if err == nil {
			files = append(files, at)
		}
	}
	err = landlock.V11.BestEffort().Restrict(landlock.RODirs(folders...), landlock.ROFiles(files...), landlock.RWFiles("/dev/null"), landlock.ROFiles("/dev/urandom", "/dev/zero"),
		landlock.RWDirs(dir).WithRefer(), landlock.PathAccess(llsys.AccessFSMakeSock|llsys.AccessFSRemoveFile, sockets))
	if err != nil {
		return fmt.Errorf("giving up files: %w", err)
	}
	if err := forbidCalls([]string{"connect", "ptrace", "process_vm_readv", "process_vm_writev", "mount", "unshare", "setns", "bpf", "keyctl", "io_uring_setup"}); err != nil {
		return err
	}
	return syscall.Exec(program, args, os.Environ())
}

// apart is a process group of its own, which ends with the server, and where the
// system lets it, without a network. That is tried once.
func apart() *syscall.SysProcAttr {
	attr := withoutNetwork()
	if !networkCanBeLeft() {
		attr = &syscall.SysProcAttr{}
	}
	attr.Setpgid, attr.Pdeathsig = true, syscall.SIGKILL
	return attr
}

func withoutNetwork() *syscall.SysProcAttr {
	if os.Geteuid() == 0 {
		return &syscall.SysProcAttr{Cloneflags: syscall.CLONE_NEWNET}
	}
	uid, gid := os.Getuid(), os.Getgid()
	return &syscall.SysProcAttr{Cloneflags: syscall.CLONE_NEWNET | syscall.CLONE_NEWUSER,
		UidMappings: []syscall.SysProcIDMap{{ContainerID: uid, HostID: uid, Size: 1}},
		GidMappings: []syscall.SysProcIDMap{{ContainerID: gid, HostID: gid, Size: 1}}}
}

var networkCanBeLeft = sync.OnceValue(func() bool {
	try := exec.Command("/bin/true")
	try.SysProcAttr = withoutNetwork()
	return try.Run() == nil
})
