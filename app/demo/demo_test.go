package demo

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"gladember/app/store"
	"gladember/core/design"
)

// The village has three heaters at different stages, two with a fortnight of
// readings, and the same ones every time.
func TestFill(t *testing.T) {
	ctx := context.Background()
	counts := map[string]int{}
	for range 2 {
		s, err := store.Open(ctx, filepath.Join(t.TempDir(), "d.db"))
		if err != nil {
			t.Fatal(err)
		}
		defer s.Close()
		if err := Fill(ctx, s); err != nil {
			t.Fatal(err)
		}
		list, err := s.Heaters(ctx)
		if err != nil || len(list) != 3 {
			t.Fatalf("%d heaters, %v", len(list), err)
		}
		kinds, logged := map[design.RoomKind]bool{}, 0
		for _, st := range list {
			kinds[st.Document.Room.Kind] = true
			r, err := s.Readings(ctx, st.Logged(), first, first.Add(days*24*time.Hour))
			if err != nil {
				t.Fatal(err)
			}
			if len(r) > 0 {
				logged++
			}
			if n, seen := counts[st.Document.Name]; seen && n != len(r) {
				t.Errorf("%s has %d readings, then %d", st.Document.Name, n, len(r))
			}
			counts[st.Document.Name] = len(r)
		}
		if len(kinds) != 3 || logged != 2 {
			t.Errorf("kinds %v, %d logs", kinds, logged)
		}
	}
}
