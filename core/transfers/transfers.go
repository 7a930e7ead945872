// Package transfers holds the rules of frozen copies that are sent for a while: which files can
// be announced, how far somebody has fetched them, and when whom is reminded.
package transfers

import (
	"time"

	"tabularis/core/fault"
	"tabularis/core/names"
)

const (
	// MostFiles is of how many files a transfer is at most.
	MostFiles = 1000
	// UsualTellDays is after how many days the sender is told of who has not fetched, unless
	// they say otherwise, and MostTellDays at the latest.
	UsualTellDays, MostTellDays = 3, 60
	// warnBefore is how long before the end those are told who have not fetched.
	warnBefore = 24 * time.Hour
)

// What is refused here.
var (
	errFilesCount    = fault.Declare(fault.Invalid, "transfer-files", "a transfer is of between 1 and 1000 files")
	errTransferBytes = fault.Declare(fault.TooLarge, "transfer-bytes", "the practice lets a transfer be of at most … bytes")
	errTellDays      = fault.Declare(fault.Invalid, "tell-days", "you are told after between 1 and 60 days")
)

// File is a file as it is announced.
type File struct {
	Name string
	// Size is in bytes.
	Size int64
}

// Announce reads what files are announced beside those that are there already: names are sound
// (see names.Check), and give way to those that are taken, as they will when the files are here.
func Announce(files []File, there []string, most int64) ([]File, error) {
	if n := len(files) + len(there); n > MostFiles {
		return nil, errFilesCount.In("files", "a transfer is of at most %d files", MostFiles)
	}
	taken := make(map[string]bool, len(files)+len(there))
	for _, name := range there {
		taken[names.Key(name)] = true
	}
	out := make([]File, len(files))
	for i, f := range files {
		name, err := names.Check("files", f.Name)
		if err != nil {
			return nil, err
		}
		switch {
		case f.Size < 0:
			return nil, fault.SizeUnknown.In("files", "the size must be known from the start")
		case f.Size > most:
			return nil, fault.TooLargeFile.In("files", "a file has at most %d bytes", most)
		}
		name = names.Apart(name, func(n string) bool { return taken[names.Key(n)] })
		taken[names.Key(name)] = true
		out[i] = File{Name: name, Size: f.Size}
	}
	return out, nil
}

// Fits refuses a transfer that is larger than the practice allows; nil is no limit.
func Fits(bytes int64, most *int64) error {
	if most != nil && bytes > *most {
		return errTransferBytes.In("files", "the practice lets a transfer be of at most %d bytes", *most)
	}
	return nil
}

// Some refuses a transfer of nothing.
func Some(files int) error {
	if files < 1 {
		return errFilesCount.In("files", "a transfer is of at least one file")
	}
	return nil
}

// TellDays reads after how many days the sender is told; zero is the usual.
func TellDays(days int) (int, error) {
	switch {
	case days == 0:
		return UsualTellDays, nil
	case days < 1 || days > MostTellDays:
		return 0, errTellDays.In("tellAfterDays", "you are told after between 1 and %d days", MostTellDays)
	}
	return days, nil
}

// Recipient is what became of a transfer for somebody.
type Recipient struct {
	// Told is when they were sent their copy of the link.
	Told time.Time
	// Files are of how many they fetched all, Begun of how many something.
	Files, Begun int
	// Missed is when the sender was told of them, Warned when they were told that it ends.
	Missed, Warned *time.Time
}

// Done says that they have all of a transfer of so many files.
func (r Recipient) Done(files int) bool { return files > 0 && r.Files >= files }

// Misses reports whether the sender is told now that somebody has fetched nothing for so many
// days; once.
func (r Recipient) Misses(days int, now time.Time) bool {
	return r.Begun == 0 && r.Missed == nil && !now.Before(r.Told.AddDate(0, 0, days))
}

// Warns reports whether somebody is told now that the copies are destroyed soon: once, a day
// before, where they have not everything, and were not told of the transfer just then.
func (r Recipient) Warns(files int, until, now time.Time) bool {
	return !r.Done(files) && r.Warned == nil && now.Before(until) && !now.Before(until.Add(-warnBefore)) && r.Told.Before(until.Add(-warnBefore))
}
