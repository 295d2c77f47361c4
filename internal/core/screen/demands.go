package screen

import "notchback/internal/core/body"

// demands are what each test asks of the legs. Looking at, touching and measuring a sitting or quietly
// standing foot asks nothing; what is taken barefoot by condition may be taken in shoes where bare work is
// taken away, so that only walks and squats count as bare.
var demands = func() map[string]body.Demand {
	seated := body.Demand{Level: 1, Trains: body.OneSide, Bears: body.NoLeg, Position: "seated"}
	still := body.Demand{Level: 0, Trains: body.OneSide, Bears: body.NoLeg}
	whole := body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Position: "standing"}
	oneLeg := body.Demand{Level: 2, Trains: body.OneSide, Bears: body.TrainedLeg, Position: "standing", Tags: []body.Tag{body.OneLeg}}
	lunge := body.Demand{Level: 2, Trains: body.OneSide, Bears: body.BothLegs, Position: "standing", Tags: []body.Tag{body.AnkleRange}}
	raise := body.Demand{Level: 3, Trains: body.OneSide, Bears: body.TrainedLeg, Position: "standing",
		Tags: []body.Tag{body.CalfWork, body.OneLeg}}
	with := func(d body.Demand, change func(*body.Demand)) body.Demand {
		d.Tags = append([]body.Tag{}, d.Tags...)
		change(&d)
		return d
	}
	tag := func(d body.Demand, tags ...body.Tag) body.Demand {
		return with(d, func(d *body.Demand) { d.Tags = append(d.Tags, tags...) })
	}
	running := with(whole, func(d *body.Demand) { d.Run = body.EasyMinutes })
	walk := with(whole, func(d *body.Demand) { d.Bare, d.Tags = true, []body.Tag{body.Walking} })
	squat := with(whole, func(d *body.Demand) { d.Bare = true })
	out := map[string]body.Demand{
		"arch.two_finger": still, "arch.drop": still, "foot.posture_index": still, "toes.shape": still,
		"sole.touch":           {Level: 0, Trains: body.NoLeg, Bears: body.NoLeg, Position: "seated"},
		"stance.low_back":      {Level: 0, Trains: body.NoLeg, Bears: body.NoLeg},
		"stance.chest":         with(oneLeg, func(d *body.Demand) { d.Trains, d.Bears = body.BothLegs, body.BothLegs }),
		"walk.heels":           walk,
		"walk.toes":            with(walk, func(d *body.Demand) { d.Level = 3 }),
		"ankle.seated_bend":    tag(seated, body.AnkleRange),
		"toe.active_height":    with(seated, func(d *body.Demand) { d.Position, d.Bears = "standing", body.BothLegs }),
		"toe.passive_height":   tag(with(seated, func(d *body.Demand) { d.Position, d.Bears = "standing", body.BothLegs }), body.ToeRange),
		"toe.loaded_extension": tag(seated, body.ToeRange), "toe.passive_extension": tag(still, body.ToeRange), "toe.alignment": seated,
		"toes.big_alone": seated, "toes.others_alone": seated, "toes.spread": seated, "toe.press": seated, "foot.short": seated,
		"foot.short_hold": seated,
		"balance.open":    oneLeg, "balance.closed": tag(oneLeg, body.EyesClosed),
		"squat.arch": squat, "squat.knee": squat, "squat.heel": squat,
		"hold.forefoot_two": tag(whole, body.CalfWork), "hold.forefoot_one": raise, "hold.soleus_wall": tag(whole, body.CalfWork),
		"hold.split_forefoot":  with(raise, func(d *body.Demand) { d.Bears, d.Tags = body.BothLegs, []body.Tag{body.CalfWork} }),
		"toe.lean":             tag(whole, body.CalfWork),
		"calf.raises_straight": raise, "calf.raises_bent": raise,
		"shin.raises":   whole,
		"hop.supported": with(whole, func(d *body.Demand) { d.Impact = body.Supported }),
		"calf.rm":       with(tag(raise, body.RM), func(d *body.Demand) { d.Level, d.Edge = 4, true }),
	}
	for _, id := range []string{"ankle.knee_to_wall", "ankle.lunge_angle", "ankle.end_feel"} {
		out[id] = lunge
	}
	for _, id := range []string{"reach.front", "reach.side", "reach.back", "reach.cross"} {
		out[id] = oneLeg
	}
	for _, m := range Measures {
		if m.Station == "gait" {
			out[m.ID] = running
		}
	}
	return out
}()

// Demand is what the test asks of the legs.
func (m Measure) Demand() body.Demand {
	d := demands[m.ID]
	d.Main = m.Regions
	return d.WithPlaces()
}

// showing names the test that shows a pattern; it may be repeated once in 14 days, to first discomfort.
var showing = map[string]string{"ankle.end_feel": "pattern.front_pinch", "toe.passive_extension": "pattern.toe_joint",
	"calf.raises_straight": "pattern.few_raises"}
