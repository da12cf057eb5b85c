package site

// Usual are rules as most begin (common practice), to be named and changed.
type Usual struct {
	Toggle    Toggle    `json:"toggle"`
	Interlock Interlock `json:"interlock"`
	Area      Area      `json:"area"`
	Group     Group     `json:"group"`
	Proofs    Proofs    `json:"proofs"`
	Screening Screening `json:"screening"`
	Lockdown  Emergency `json:"lockdown"`
	Fire      Emergency `json:"fire"`
	Reaction  Reaction  `json:"reaction"`
	AlarmArea AlarmArea `json:"alarmArea"`
}

// UsualRules are those for a door, or none, at all hours where the schedule is that of all hours.
func UsualRules(door, always ID) Usual {
	doors := []ID{}
	if door != 0 {
		doors = append(doors, door)
	}
	all := []Target{{Kind: Everything}}
	return Usual{
		Toggle:    UsualToggle(),
		Interlock: Interlock{DoorIDs: doors, Waits: true},
		Area:      Area{Mode: PassbackRefuse, Forget: "04:00", ExemptIDs: []ID{}},
		Group:     Group{PersonIDs: []ID{}, DepartmentIDs: []ID{}},
		Proofs: Proofs{
			Kind: Combined, DoorIDs: doors, ScheduleID: always, Window: 20,
			Combinations: []Combination{{Total: 2, Parts: []Part{{Count: 1}}}},
		},
		Screening: Screening{
			PersonIDs: []ID{}, DepartmentIDs: []ID{}, DeskIDs: []ID{}, PassIDs: []ID{}, Lasts: LastsMidnight,
		},
		Lockdown:  Emergency{Does: Lockdown, Targets: all},
		Fire:      Emergency{Does: FireRelease, Targets: all},
		Reaction:  UsualReaction(door, always),
		AlarmArea: UsualAlarmArea(door),
	}
}
