// Package server puts the parts together and runs them.
package server

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"sync"
	"time"

	"tabularis/core/items"
	smtpdoor "tabularis/internal/doors/smtp"
	"tabularis/internal/doors/web"
	"tabularis/internal/doors/web/door"

	"tabularis/internal/app/checkout"
	"tabularis/internal/app/chunk"
	"tabularis/internal/app/decisions"
	"tabularis/internal/app/deletion"
	"tabularis/internal/app/deliveries"
	"tabularis/internal/app/fillings"
	"tabularis/internal/app/find"
	"tabularis/internal/app/following"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/mailing"
	"tabularis/internal/app/particulars"

	"tabularis/internal/app/tags"
	"tabularis/internal/app/today"
	"tabularis/internal/app/transfers"

	"tabularis/internal/platform/lease"
	"tabularis/internal/platform/limits"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/recognition"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/calendar"
	"tabularis/internal/app/care"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/evidence"
	"tabularis/internal/app/links"
	"tabularis/internal/app/live"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/people"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/remarks"
	"tabularis/internal/app/routes"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/signing"
	"tabularis/internal/app/templates"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/versions"
	"tabularis/internal/app/visits"
	"tabularis/internal/app/writing"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/content"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/secret"
)

// App is everything put together.
type App struct {
	Config  Config
	DB      *postgres.DB
	Web     *web.Server
	Content *content.Store
	Keys    *secret.Keys
	Care    *care.Service
	Chunks  *chunk.Service
	// Evidence keeps the log of what happened.
	Evidence    *evidence.Service
	Access      *guard.Guard
	Items       *tree.Service
	Jobs        *jobs.Registry
	mail        *mail.Sender
	log         *slog.Logger
	cells       *cell.Pool
	connections *Connections

	sensitive *sensitive.Service
	// submission takes mails from mail programs, where it listens.
	submission *smtpdoor.Door
}

// compiled is the folder for compiled code.
func (c Config) compiled() string {
	if c.CompiledDir != "" {
		return c.CompiledDir
	}
	return filepath.Join(c.DataDir, "compiled")
}

// New opens the database, which must be migrated, and puts the parts together.
func New(ctx context.Context, c Config, front fs.FS, clock act.Clock, passwords *secret.Passwords, log *slog.Logger) (*App, error) {
	open, err := c.connections(ctx)
	if err != nil {
		return nil, err
	}
	db := open.DB
	a := &App{Config: c, DB: db, connections: open, log: log}
	if a.Keys, err = openKeys(ctx, db, c.KeyFile); err != nil {
		a.disconnect()
		return nil, err
	}
	if a.Content, err = openContent(ctx, c); err != nil {
		return nil, err
	}
	if a.mail, err = mail.New(c.Mail); err != nil {
		return nil, err
	}
	queue, err := jobs.NewQueue(db, a.Keys)
	if err != nil {
		return nil, fmt.Errorf("preparing jobs: %w", err)
	}
	acts := &act.Runner{DB: db, Clock: clock, Jobs: queue, Heed: decisions.Heed}
	keeper := guard.New(db)
	a.cells = c.Cells
	if a.cells == nil {
		a.cells = cell.New(0, c.compiled())
	}
	reader := &reading.Reader{Cells: a.cells, Notes: reading.Noted{DB: db, Clock: clock}, Hurry: c.Hurry}
	changes := &tree.Service{Access: keeper, Bars: []func(context.Context, postgres.Q, items.Item) ([]items.Bar, error){checkout.Bars, decisions.Bars, signing.Bars},
		Within: []func(context.Context, postgres.Q, items.Item) ([]items.Bar, error){checkout.Within},
		Follow: []func(context.Context, *act.Tx, tree.Change) error{links.Follow, sensitive.Follow, chunk.Follow, documents.Follow, remarks.Follow, find.Follow}}
	contents := &tree.Contents{DB: db, Content: a.Content, Keys: a.Keys, Reader: reader}
	drawer := pages.New(reader, office.Find(c.OfficeProgram))
	a.sensitive = &sensitive.Service{Acts: acts, Contents: contents, MakersOfNewest: links.MakersOfNewest}
	secureLinks := &links.Service{Acts: acts, Access: keeper, Keys: a.Keys, Passwords: passwords, Sensitive: a.sensitive, Pages: drawer, BaseURL: c.BaseURL}
	bodies := &dossiers.Service{Acts: acts, Access: keeper, Items: changes}
	docs := &documents.Service{Acts: acts, Access: keeper, Items: changes, Links: secureLinks, Dossiers: bodies, Contents: contents, Pages: drawer, TagsOf: tags.Words}
	accounts := &people.Service{Acts: acts, Access: keeper, Keys: a.Keys, BaseURL: c.BaseURL}
	shares := &sharing.Service{Acts: acts, Access: keeper, Items: changes, Links: secureLinks, People: accounts, BaseURL: c.BaseURL}
	bodies.Fill = func(ctx context.Context, tx *act.Tx, like string, documents bool, top items.Item) error {
		return shares.Fill(ctx, tx, sharing.Pattern{Code: like, Documents: documents}, top)
	}
	passkeys, err := sessions.NewWebAuthn(c.BaseURL)
	if err != nil {
		return nil, err
	}
	a.Items = changes
	a.Care = &care.Service{Acts: acts, Log: log, Content: a.Content, Keys: a.Keys, Rest: time.Hour}
	a.Chunks = &chunk.Service{Acts: acts, Contents: contents}
	locks := lease.NewLocks(db)
	hub := live.NewHub()
	entrance := &sessions.Service{Acts: acts, Passwords: passwords, Keys: a.Keys, WebAuthn: passkeys, BaseURL: c.BaseURL}
	incoming := &uploads.Service{Acts: acts, Access: keeper, Items: changes, Documents: docs, Content: a.Content, Keys: a.Keys, Locks: locks, MaxBytes: c.MaxUpload}
	hub.Others = map[string]func(string){lease.ReleaseChannel: locks.Wanted, uploads.ArrivingChannel: incoming.Arrivals.Tell}
	stream := &activity.Service{Acts: acts, Access: keeper, Hub: hub, Known: accounts.Known, Heeded: following.Heeded}
	docs.Put, docs.EventsOf = incoming.PutDocument, stream.Bagged
	news := &following.Service{Acts: acts, Access: keeper, Activity: stream, BaseURL: c.BaseURL}
	a.Evidence = &evidence.Service{Acts: acts, Access: keeper, Activity: stream, Contents: contents, Keys: a.Keys, BaseURL: c.BaseURL, Turns: evidence.NewTurns()}
	talk := &remarks.Service{Acts: acts, Access: keeper, Contents: contents, BaseURL: c.BaseURL, Known: accounts.Known}
	finder := &find.Service{Acts: acts, Access: keeper, Contents: contents, Keys: a.Keys, DB: open.Finding, TagIsMine: tags.Mine, Reached: links.ReachedAnywhere, Recogniser: recognition.Find(c.RecognitionProgram), Beside: []find.Words{tags.Words, remarks.Words}}
	told := &notices.Service{Acts: acts}
	outsiders := &visits.Service{Acts: acts, Contents: contents, Passwords: passwords, Keys: a.Keys, Pages: drawer, Sensitive: a.sensitive, Uploads: incoming, Talk: talk, BaseURL: c.BaseURL}
	sending := &transfers.Service{Acts: acts, Access: keeper, Items: changes, Dossiers: bodies, Sharing: shares, Links: secureLinks, Uploads: incoming, Visits: outsiders, BaseURL: c.BaseURL}
	incoming.Announced = sending
	host, port, err := c.Submission.open(c.BaseURL)
	if err != nil {
		return nil, err
	}
	mails := &mailing.Service{Acts: acts, Access: keeper, Keys: a.Keys, Reader: reader, Transfers: sending, Links: secureLinks, Uploads: incoming, Mail: a.mail, BaseURL: c.BaseURL, Host: host, Port: port}
	a.submission = &smtpdoor.Door{Mailing: mails, TLS: c.Submission.TLS, Log: log}
	sent := &deliveries.Service{Acts: acts, Access: keeper, Items: changes, Contents: contents, Dossiers: bodies, Links: secureLinks, BaseURL: c.BaseURL}
	outsiders.Addresses = sent
	particular := &particulars.Service{Acts: acts, Access: keeper, Known: accounts.Known}
	tagged := &tags.Service{Acts: acts, Access: keeper}
	decided := &decisions.Service{Acts: acts, Access: keeper, Sharing: shares, Particulars: particular, Tags: tagged, Links: secureLinks, Known: accounts.Known, BaseURL: c.BaseURL}
	ways := &routes.Service{Acts: acts, Access: keeper, Decisions: decided, Known: accounts.Known}
	decided.Placed, decided.StartOther, decided.StartBy, accounts.Left = ways.Placed, ways.StartOther, ways.StartBy, decided.PersonLeft
	seal, err := c.Signing.open()
	if err != nil {
		return nil, err
	}
	filling := &templates.Service{Acts: acts, Access: keeper, Contents: contents, Uploads: incoming}
	signed := &signing.Service{Acts: acts, Access: keeper, Contents: contents, Items: changes, Links: secureLinks, Visits: outsiders, Sharing: shares, Uploads: incoming, Templates: filling, Pages: drawer, Keys: a.Keys, Known: accounts.Known, BaseURL: c.BaseURL, Sealing: seal}
	outsiders.Signs = signing.ByLink
	written := writing.New(&writing.Service{Acts: acts, Access: keeper, Contents: contents, Items: changes, Uploads: incoming, Keys: a.Keys, Visits: outsiders, Relay: c.Relay})
	talk.Held, docs.Beside, signed.Beside = written.Held, written.Beside, written.Beside
	hub.Others[writing.Channel] = written.Tell
	changes.Follow = append(changes.Follow, written.Follow)
	filledIn := &fillings.Service{Acts: acts, Access: keeper, Contents: contents, Items: changes, Visits: outsiders, Pages: drawer, Keys: a.Keys, TextOf: written.TextOf}
	secureLinks.Asks = filledIn.Asks
	inHand := &checkout.Service{Acts: acts, Access: keeper}
	removed := &deletion.Service{Acts: acts, Access: keeper, Items: changes, Sharing: shares, Content: a.Content}
	a.Access = keeper
	a.Web = &web.Server{
		Door: &door.Door{Acts: acts, Sessions: entrance, Log: log, BodyTime: c.BodyTime, SecureCookies: c.Secure,
			Metrics: door.NewMetrics(func() (int32, int32) { st := db.Pool.Stat(); return st.AcquiredConns(), st.MaxConns() })},
		People: accounts, Sharing: shares, Dossiers: bodies, Documents: docs, Deletion: removed, Checkout: inHand, Uploads: incoming, Links: secureLinks, Activity: stream, Following: news, Evidence: a.Evidence, Find: finder, Tags: tagged, Particulars: particular, Decisions: decided, Routes: ways, Signing: signed, Templates: filling, Writing: written, Fillings: filledIn, Remarks: talk, Hub: hub,
		Practice: &practice.Service{Acts: acts, Confirm: entrance.Confirm, HasFactor: sessions.HasFactor},
		Visits:   outsiders, Transfers: sending, Deliveries: sent, Mailing: mails,
		Notices:  told,
		Calendar: &calendar.Service{Acts: acts, Links: secureLinks, Sharing: shares, Checkout: inHand, BaseURL: c.BaseURL},
		Today:    &today.Service{Acts: acts, Access: keeper, Activity: stream, Dossiers: bodies, Sharing: shares, Links: secureLinks, Transfers: sending, Deliveries: sent, Notices: told, Decisions: decided, Signing: signed},
		KeysFit:  func(ctx context.Context) error { return checkKeys(ctx, db, a.Keys) },
		Front:    front, Mailbox: c.Mailbox, TrustedProxies: c.TrustedProxies,
	}
	a.Jobs = jobs.NewRegistry(db, a.Keys, log)
	for _, capability := range []interface{ Register(r *jobs.Registry) }{
		a.mail, a.sensitive, secureLinks, a.Web.Visits, a.Web.Notices, a.Web.Practice, incoming, removed, inHand, a.Care, a.Chunks, a.Evidence, talk, news, sending, sent, mails, docs, finder, decided, ways, signed, written, filledIn, &versions.Service{Acts: acts, Items: changes}, entrance, shares, limits.Duty{DB: db, Clock: clock}, reading.Noted{DB: db, Clock: clock},
	} {
		capability.Register(a.Jobs)
	}
	return a, nil
}

func openContent(ctx context.Context, c Config) (*content.Store, error) {
	dir := filepath.Join(c.DataDir, "content")
	if c.ContentURL == "" {
		return content.Open(dir)
	}
	return content.OpenBucket(ctx, dir, c.ContentURL)
}

// Run serves on the listener until the context ends, then lets requests finish
// for a while. Open event streams are cut; their pages reconnect.
func (a *App) Run(ctx context.Context, listener net.Listener) error {
	handler, err := a.Web.Handler()
	if err != nil {
		return err
	}
	if os.Getenv("GOGC") == "" {
		// The heap is small, a few dozen megabytes: collecting it less often costs
		// little memory and saves a twentieth of the work of small requests.
		debug.SetGCPercent(400)
	}
	if a.Config.MemoryLimit > 0 && os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(a.Config.MemoryLimit)
	}
	base, cut := context.WithCancel(context.WithoutCancel(ctx))
	defer cut()
	var busy sync.WaitGroup
	counted := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		busy.Add(1)
		defer busy.Done()
		handler.ServeHTTP(w, r)
	})
	srv := &http.Server{Handler: counted, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10,
		BaseContext: func(net.Listener) context.Context { return base }, ErrorLog: slog.NewLogLogger(a.log.Handler(), slog.LevelDebug)}
	background, stop := context.WithCancel(context.WithoutCancel(ctx))
	defer stop()
	var wg sync.WaitGroup
	failed := make(chan error, 4)
	if a.Config.MetricsListen != "" {
		metrics := &http.Server{Addr: a.Config.MetricsListen, Handler: a.Web.Metrics.Handler(), ReadHeaderTimeout: 10 * time.Second}
		go func() { failed <- metrics.ListenAndServe() }()
		defer metrics.Close()
	}
	a.cells.Warm()
	wg.Go(func() { a.Web.Hub.Run(background, a.DB, a.log) })
	wg.Go(func() {
		if err := a.Jobs.Run(background); err != nil {
			failed <- fmt.Errorf("running jobs: %w", err)
		}
	})
	if a.Config.Submission.Listen != "" {
		programs := a.Config.Submission.Listener
		if programs == nil {
			if programs, err = net.Listen("tcp", a.Config.Submission.Listen); err != nil {
				return fmt.Errorf("listening for mail programs: %w", err)
			}
		}
		wg.Go(func() {
			if err := a.submission.Serve(background, programs); err != nil {
				failed <- err
			}
		})
	}
	go func() { failed <- srv.Serve(listener) }()
	select {
	case <-ctx.Done():
	case err = <-failed:
	}
	patience, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	stop()
	if shutdown := srv.Shutdown(patience); shutdown != nil {
		cut()
		srv.Close()
		// What they have received so far is still stored and noted.
		within(10*time.Second, &busy)
	}
	wg.Wait()
	if errors.Is(err, http.ErrServerClosed) {
		err = nil
	}
	return err
}

// within waits for a group, but no longer than d.
func within(d time.Duration, group *sync.WaitGroup) {
	done := make(chan struct{})
	go func() {
		group.Wait()
		close(done)
	}()
	select {
	case <-done:
	case <-time.After(d):
	}
}

// Close ends the connections to the database.
func (a *App) Close() {
	a.Web.Uploads.Locks.Close()
	a.Web.Writing.Close()
	if a.Config.Cells == nil {
		a.cells.Close()
	}
	a.disconnect()
}

func (a *App) disconnect() {
	if a.Config.Connections == nil {
		a.connections.Close()
	}
}
