package api_test

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/chunk"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// drawing makes content that cannot be made smaller, and edited changes a little of it.
func drawing(seed uint64, n int) []byte {
	r := rand.New(rand.NewPCG(seed, 24))
	b := make([]byte, n)
	for i := range b {
		b[i] = byte(r.Uint32())
	}
	return b
}

func edited(b []byte, seed uint64, n int) []byte {
	r := rand.New(rand.NewPCG(seed, 31))
	at := r.IntN(len(b) - n)
	return slices.Concat(b[:at], drawing(seed+1000, n), b[at+n/2:])
}

// Of further versions only what they changed is kept; every one of them reads as it was,
// from any place, and what is destroyed is gone although later versions need the rest.
func TestStorageGrowsByWhatChanged(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	chunks := o.App.Chunks
	stored := func() (n int64) {
		t.Helper()
		if err := o.App.DB.Get(&n, `SELECT sum(bytes) FROM storage_used`); err != nil {
			t.Fatal(err)
		}
		return n
	}
	places := func() (n int) {
		t.Helper()
		if err := o.App.Content.Places(func(uuid.UUID, time.Time) error { n++; return nil }); err != nil {
			t.Fatal(err)
		}
		return n
	}
	before, were := stored(), places()
	all := [][]byte{drawing(1, 600_000)}
	doc := o.hanne.Upload(o.reports, "", "general arrangement.bin", all[0]).Document.Id
	for v := uint64(2); v <= 12; v++ {
		all = append(all, edited(all[len(all)-1], v, 2000))
		o.hanne.Upload(o.reports, "", "general arrangement.bin", all[len(all)-1])
	}
	// However many look at once, each version is taken apart once.
	var wait sync.WaitGroup
	for range 4 {
		wait.Go(func() {
			if err := chunks.Weigh(t.Context(), doc); err != nil {
				t.Error(err)
			}
		})
	}
	wait.Wait()
	waitFor(t, func() bool {
		var whole int
		if err := o.App.DB.Get(&whole, `SELECT count(*) FROM blobs b JOIN versions v ON v.sha256 = b.sha256 WHERE v.item_id = $1 AND v.number > 1 AND NOT b.weighed`, doc); err != nil {
			t.Fatal(err)
		}
		return whole == 0
	})
	took := stored() - before
	if most := int64(600_000 + 11*2000*3/2); took > most {
		t.Errorf("12 versions take %d bytes, at most %d were expected", took, most)
	}
	t.Logf("12 versions of 600 kB with 2 kB changed each take %d bytes beside the first", took-600_000)

	reads := func(numbers ...int) {
		t.Helper()
		for _, n := range numbers {
			url := fmt.Sprintf("/api/documents/%s/content?version=%d", doc, n)
			if got := o.hanne.Want(200, "GET", url, nil).Body; !bytes.Equal(got, all[n-1]) {
				t.Fatalf("version %d: %d bytes, or others", n, len(got))
			}
			from := 1000 * n
			if got := o.hanne.Want(206, "GET", url, nil, "Range", fmt.Sprintf("bytes=%d-%d", from, from+99_999)).Body; !bytes.Equal(got, all[n-1][from:from+100_000]) {
				t.Errorf("a piece of version %d differs", n)
			}
		}
	}
	sound := func() {
		t.Helper()
		if report, err := o.App.Care.Verify(t.Context()); err != nil || !report.Sound() || len(report.Orphans) != 0 {
			t.Errorf("%+v, %v", report, err)
		}
	}
	reads(1, 2, 7, 12)
	sound()

	// The places that were left are there for whoever reads them, and gone a day later.
	if places() <= were+12 {
		t.Error("what may be being read is gone at once")
	}
	o.Later(chunk.Rest + time.Minute)
	o.hanne = o.SignIn("hanne")
	do := func(name string) {
		t.Helper()
		if err := o.App.Jobs.Do(t.Context(), name); err != nil {
			t.Fatal(err)
		}
	}
	do("drop places that are left")
	if n := places(); n != were+12 {
		t.Errorf("12 versions lie in %d places", n-were)
	}

	// The first version is destroyed: the others need most of it, and not the rest.
	for _, n := range []int{1, 2} {
		o.hanne.Want(204, "DELETE", fmt.Sprintf("/api/documents/%s/versions/%d", doc, n), nil)
	}
	was := stored()
	o.Later(61 * 24 * time.Hour)
	o.hanne = o.SignIn("hanne")
	do("destroy what was kept long enough")
	do("let go of what is left of content")
	do("let go of what is left of content")
	if freed := was - stored(); freed < 1000 {
		t.Errorf("%d bytes are freed", freed)
	}
	var left int
	if err := o.App.DB.Get(&left, `SELECT count(*) FROM blobs b WHERE NOT EXISTS (SELECT 1 FROM versions v WHERE v.sha256 = b.sha256) AND (b.left_over OR b.size = 600000)`); err != nil || left != 0 {
		t.Errorf("%d contents are left over, %v", left, err)
	}
	reads(3, 8, 12)
	sound()

	// With the document everything goes.
	d := o.deletes(o.hanne, doc)
	o.hanne.Want(204, "POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{d}, Code: "MER-24"})
	o.Later(chunk.Rest + time.Minute)
	do("drop places that are left")
	waitFor(t, func() bool { return places() == were })
	if n := stored(); n != before {
		t.Errorf("%d bytes stay", n-before)
	}
	sound()
}
