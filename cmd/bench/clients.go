package main

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"time"
	_ "time/tzdata"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/store"
)

func (b *bench) changeRule(ctx context.Context) func(int) error {
	return func(n int) error {
		v := float64(4 - n%2)
		return b.store.In(ctx, b.a.Practice, func(tx *store.Tx) error { return tx.ChangeRule(ctx, "queue.quiet", &v, b.a.Coach) })
	}
}

// phoneLinks makes a private link for every runner.
func (b *bench) phoneLinks(ctx context.Context) ([]string, error) {
	out := []string{}
	for _, r := range b.runners {
		token := store.NewToken()
		err := b.store.In(ctx, b.a.Practice, func(tx *store.Tx) error {
			return tx.AddLink(ctx, r, store.NewID(), store.Hash(token), time.Now().AddDate(1, 0, 0))
		})
		if err != nil {
			return nil, err
		}
		out = append(out, token)
	}
	return out, nil
}

// trials enters one trial after another into an open screen.
func (b *bench) trials(ctx context.Context) func(int) (int, error) {
	open := map[string]string{}
	return func(n int) (int, error) {
		runner := b.runners[n%min(5, len(b.runners))]
		if open[runner] == "" {
			denied := []string{}
			for _, s := range refer.Signs {
				denied = append(denied, s.ID)
			}
			base := "/api/runners/" + runner
			if _, _, err := b.ask("PUT", base+"/checks/"+store.NewID(), map[string]any{"denied": denied, "source": "screen"}, nil); err != nil {
				return 0, err
			}
			for open[runner] == "" { // one left open by an earlier time is finished first
				id := store.NewID()
				_, raw, err := b.ask("PUT", base+"/screens/"+id, map[string]any{"kind": screen.FullScreen}, nil)
				if err != nil {
					return 0, err
				}
				var v struct{ Current struct{ ID string } }
				if err := json.Unmarshal(raw, &v); err != nil {
					return 0, err
				}
				if v.Current.ID == id {
					open[runner] = id
				} else if _, _, err := b.ask("POST", base+"/screens/"+v.Current.ID+"/finish", nil, nil); err != nil {
					return 0, err
				}
			}
			b.background.Idle()
		}
		sent, _, err := b.ask("PUT", "/api/runners/"+runner+"/screens/"+open[runner]+"/trials/"+store.NewID(),
			map[string]any{"measure": "ankle.knee_to_wall", "side": "left", "value": 9.5}, nil)
		return sent, err
	}
}

// logs enters sessions as phones do: what was shown is in them.
func (b *bench) logs(token []string) func(int) (int, error) {
	shown := map[int][]byte{}
	tried := 0
	var again func(int) (int, error)
	again = func(n int) (int, error) {
		k := n % min(5, len(token))
		header := map[string]string{"Authorization": "Bearer " + token[k]}
		if shown[k] == nil {
			_, raw, err := b.ask("GET", "/api/phone", nil, header)
			if err != nil {
				return 0, err
			}
			shown[k] = raw
		}
		var page struct {
			Today    string
			Sessions []struct {
				Items []struct {
					Exercise catalog.Exercise
					Sides    []struct {
						Prescriptions []string
						Exact         body.Dose
					}
				}
			}
		}
		if err := json.Unmarshal(shown[k], &page); err != nil {
			return 0, err
		}
		for _, s := range page.Sessions {
			for _, it := range s.Items {
				body := map[string]any{"prescription": it.Sides[0].Prescriptions[0], "on": page.Today, "done": []int{8, 8}, "rpe": 6, "pain": 0,
					"shown": map[string]any{"exercise": it.Exercise.ID, "dose": it.Sides[0].Exact}}
				sent, _, err := b.ask("PUT", "/api/phone/logs/"+store.NewID(), body, header)
				return sent, err
			}
		}
		if tried++; tried > 20 {
			return 0, errors.New("no session on any of twenty days to log")
		}
		delete(shown, k)
		b.ahead.Add(int64(24 * time.Hour)) // a day that has one
		return again(n + 1)
	}
	return again
}

func (b *bench) mornings(token []string) func(int) (int, error) {
	return func(n int) (int, error) {
		k := n % len(token)
		body := map[string]any{"on": b.desk.Now().UTC().AddDate(0, 0, -1).Format(time.DateOnly), "region": "heel_sole", "side": "left", "pain": 1}
		sent, _, err := b.ask("PUT", "/api/phone/mornings/"+store.NewID(), body, map[string]string{"Authorization": "Bearer " + token[k]})
		return sent, err
	}
}

// clients reads Today and adjust pages with many clients at once and prints the memory of this process.
func (b *bench) clients(n int) error {
	var wait sync.WaitGroup
	errs := make(chan error, n)
	var most atomic.Uint64
	done := make(chan struct{})
	go func() {
		tick := time.NewTicker(50 * time.Millisecond)
		defer tick.Stop()
		for {
			select {
			case <-done:
				return
			case <-tick.C:
				var m runtime.MemStats
				runtime.ReadMemStats(&m)
				if used := m.Sys - m.HeapReleased; used > most.Load() {
					most.Store(used)
				}
			}
		}
	}()
	begun, reads := time.Now(), 0
	for c := range n {
		wait.Go(func() {
			for k := range 10 {
				if _, err := b.page("/api/today")(0); err != nil {
					errs <- err
					return
				}
				if _, err := b.page("/api/runners/{runner}", "/api/runners/{runner}/adjust")(c*10 + k); err != nil {
					errs <- err
					return
				}
			}
		})
		reads += 20
	}
	wait.Wait()
	close(done)
	select {
	case err := <-errs:
		return err
	default:
	}
	fmt.Printf("%d clients read %d pages in %s; the Go process held at most %d MB (runtime: Sys − HeapReleased), %s resident\n", n, reads,
		time.Since(begun).Round(time.Millisecond), most.Load()>>20, resident())
	return nil
}

// resident is the memory the system counts for this process.
func resident() string {
	raw, err := os.ReadFile("/proc/self/status")
	if err != nil {
		return "?"
	}
	for _, l := range strings.Split(string(raw), "\n") {
		if strings.HasPrefix(l, "VmHWM") {
			return strings.Join(strings.Fields(l)[1:], " ")
		}
	}
	return cmp.Or("", "?")
}
