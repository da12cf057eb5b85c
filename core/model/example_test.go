package model_test

import (
	"fmt"

	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

// What a kind of object points to is known in one place, for all who keep, remove or find it.
func ExampleByWord() {
	k := model.ByWord("door")
	for _, r := range k.Refs(&site.Door{ID: 5, FloorID: 2, ControllerID: 3, PlanID: 4}) {
		if r.ID != 0 {
			fmt.Println(r.Field, r.Kind, r.ID)
		}
	}
	c := &site.Config{Plans: []site.Plan{{ID: 4, Name: "Public galleries"}}}
	for id, name := range model.ByWord("plan").Named(c) {
		fmt.Println(id, name)
	}
	// Output:
	// floorId floor 2
	// controllerId controller 3
	// planId plan 4
	// 4 Public galleries
}
