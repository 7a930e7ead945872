package access

import "fmt"

// Moved returns the dossier to as it would be with one of f's roots, and all
// under it, standing under another of its roots. folder is where a single
// document then lies, zero for a folder. Both may be the same dossier. Refused
// are tops and places under the root itself.
func (f *Forest) Moved(item ID, to *Forest, under, folder ID) (*Forest, error) {
	n, above := f.roots[item], to.roots[under]
	switch {
	case n == nil || above == nil:
		return nil, fmt.Errorf("root %x or %x is not there", item, under)
	case n == f.top:
		return nil, fmt.Errorf("a dossier's top cannot be moved")
	}
	moved := map[ID]bool{}
	for _, id := range f.Below(item) {
		moved[id] = true
	}
	if moved[under] {
		return nil, fmt.Errorf("root %x lies under itself", item)
	}
	var roots []Root
	var grants []Grant
	take := func(n *node) {
		r := n.Root
		if r.ID == item {
			r.Parent, r.Folder = under, folder
		}
		roots, grants = append(roots, r), append(grants, n.grants...)
	}
	for id := range moved {
		take(f.roots[id])
	}
	for id, n := range to.roots {
		if !moved[id] {
			take(n)
		}
	}
	return NewForest(to.top.ID, roots, grants)
}
