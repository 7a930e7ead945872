// Package devdb runs a PostgreSQL cluster of its own on loopback, from Debian's
// binaries, for the demo and the tests.
package devdb

import (
	"context"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"sort"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// Cluster is a running PostgreSQL.
type Cluster struct {
	dir, bin string
	port     int
	cmd      *exec.Cmd
	done     chan error
}

// Binaries finds PostgreSQL's programs, or says what to install.
func Binaries() (string, error) {
	dirs, _ := filepath.Glob("/usr/lib/postgresql/*/bin")
	sort.Sort(sort.Reverse(sort.StringSlice(dirs)))
	if out, err := exec.Command("pg_config", "--bindir").Output(); err == nil {
		dirs = append(dirs, strings.TrimSpace(string(out)))
	}
	for _, d := range dirs {
		if _, err := os.Stat(filepath.Join(d, "initdb")); err == nil {
			return d, nil
		}
	}
	return "", errors.New("PostgreSQL is not installed; on Debian: apt-get install postgresql")
}

// credential is the user under whom the server runs: PostgreSQL refuses root.
func credential() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("PostgreSQL does not run as root and there is no user postgres: %w", err)
	}
	uid, err := strconv.Atoi(u.Uid)
	if err != nil {
		return nil, err
	}
	gid, err := strconv.Atoi(u.Gid)
	if err != nil {
		return nil, err
	}
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// Start starts the cluster in a folder, which it makes at the first start. The
// server is a child of this process and ends with it.
func Start(ctx context.Context, dir string, settings ...string) (*Cluster, error) {
	bin, err := Binaries()
	if err != nil {
		return nil, err
	}
	cred, err := credential()
	if err != nil {
		return nil, err
	}
	if dir, err = filepath.Abs(dir); err != nil {
		return nil, err
	}
	c := &Cluster{dir: dir, bin: bin, done: make(chan error, 1)}
	if err := c.make(ctx, cred); err != nil {
		return nil, err
	}
	if c.port, err = freePort(); err != nil {
		return nil, err
	}
	args := []string{"-D", dir, "-p", strconv.Itoa(c.port), "-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=" + dir, "-c", "max_connections=200", "-c", "logging_collector=off"}
	for _, s := range settings {
		args = append(args, "-c", s)
	}
	log, err := os.OpenFile(filepath.Join(filepath.Dir(dir), filepath.Base(dir)+".log"), os.O_CREATE|os.O_WRONLY|os.O_APPEND, 0o600)
	if err != nil {
		return nil, fmt.Errorf("opening the database's log: %w", err)
	}
	defer log.Close()
	c.cmd = exec.Command(filepath.Join(bin, "postgres"), args...)
	c.cmd.Dir, c.cmd.Stdout, c.cmd.Stderr = dir, log, log
	// A group of its own keeps a terminal's Ctrl+C for us; we end it in order.
	c.cmd.SysProcAttr = &syscall.SysProcAttr{Credential: cred, Setpgid: true, Pdeathsig: syscall.SIGINT}
	started := make(chan error)
	go func() {
		// The server is signalled when the thread that started it ends, so that
		// thread is kept for as long as the server runs.
		runtime.LockOSThread()
		err := c.cmd.Start()
		started <- err
		if err == nil {
			c.done <- c.cmd.Wait()
		}
	}()
	if err := <-started; err != nil {
		return nil, fmt.Errorf("starting PostgreSQL: %w", err)
	}
	if err := c.wait(ctx); err != nil {
		return nil, fmt.Errorf("%w; see %s", err, log.Name())
	}
	return c, nil
}

// make initialises the folder unless that was done before.
func (c *Cluster) make(ctx context.Context, cred *syscall.Credential) error {
	if _, err := os.Stat(filepath.Join(c.dir, "PG_VERSION")); err == nil {
		return nil
	}
	if err := os.MkdirAll(c.dir, 0o700); err != nil {
		return fmt.Errorf("making the database's folder: %w", err)
	}
	if cred != nil {
		if err := os.Chown(c.dir, int(cred.Uid), int(cred.Gid)); err != nil {
			return fmt.Errorf("making the database's folder: %w", err)
		}
	}
	init := exec.CommandContext(ctx, filepath.Join(c.bin, "initdb"), "-D", c.dir, "-U", "tabularis", "--auth=trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync")
	init.Dir = "/"
	init.SysProcAttr = &syscall.SysProcAttr{Credential: cred}
	if out, err := init.CombinedOutput(); err != nil {
		return fmt.Errorf("initialising PostgreSQL in %s: %w\n%s", c.dir, err, out)
	}
	return nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("finding a free port: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func (c *Cluster) wait(ctx context.Context) error {
	ready := filepath.Join(c.bin, "pg_isready")
	for deadline := time.Now().Add(time.Minute); time.Now().Before(deadline); {
		if exec.CommandContext(ctx, ready, "-q", "-h", "127.0.0.1", "-p", strconv.Itoa(c.port)).Run() == nil {
			return nil
		}
		select {
		case err := <-c.done:
			c.done <- err
			return fmt.Errorf("PostgreSQL ended while starting: %v", err)
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
		}
	}
	return errors.New("PostgreSQL was not ready within a minute")
}

// URL is the address of a database in the cluster.
func (c *Cluster) URL(database string) string {
	return fmt.Sprintf("postgres://tabularis@127.0.0.1:%d/%s?sslmode=disable", c.port, database)
}

// Kill ends the cluster as a crash does.
func (c *Cluster) Kill() {
	_ = c.cmd.Process.Kill()
	<-c.done
}

// Stop ends the cluster in order: a fast shutdown, then for good.
func (c *Cluster) Stop() error {
	_ = c.cmd.Process.Signal(syscall.SIGINT)
	select {
	case <-c.done:
		return nil
	case <-time.After(20 * time.Second):
		_ = c.cmd.Process.Kill()
		<-c.done
		return errors.New("PostgreSQL did not end by itself and was killed")
	}
}
