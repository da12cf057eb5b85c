package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/e2e/browser"
)

// sameCodes reads both codes as the person does who compares them.
func (w *world) sameCodes() {
	v, err := w.Eval(`() => ['here', 'there'].map(k => document.querySelector('[data-code=' + k + ']').innerText)`)
	require.NoError(w.t, err)
	here, there := v.Value.Arr()[0].Str(), v.Value.Arr()[1].Str()
	assert.Regexp(w.t, `^\d{3} \d{3}$`, here)
	assert.Equal(w.t, here, there)
}

// Codes that differ stop it, and nothing is in service; a second browser is signed out when the password changes.
func TestStrangers(t *testing.T) {
	w := newWorld(t)
	w.step("first administrator", func() {
		w.See("Nobody can sign in yet")
		w.Fill("Name", "Robin")
		w.Fill("Password", "low tide at noon")
		w.Press("Begin")
	})
	w.step("codes that differ", func() {
		w.See("AK-1001")
		w.Press("Take into service")
		w.Fill("Name", "Hall cupboard")
		w.Fill("Time zone", "America/Halifax")
		w.Press("Erase and take into service")
		w.See("Does it show the same code")
		w.Press("It differs")
		w.See("Stopped: nothing was taken into service")
		w.Press("Cancel")
		w.See("Nothing works yet")
	})
	other, err := browser.Open(w.web.URL)
	require.NoError(t, err)
	defer other.Close()
	w.step("a second browser", func() {
		other.See("Doors, decided and proved")
		other.Fill("Name", "Robin")
		other.Fill("Password", "low tide at noon")
		other.Press("Sign in")
		other.See("Found on the network")
	})
	w.step("another password", func() {
		w.Press("Robin")
		w.See("Where you are signed in")
		w.Fill("Present password", "high tide at noon")
		w.Fill("New password", "slack water at dusk")
		w.Press("Change the password")
		w.See("The present password is not right")
		w.Fill("Present password", "low tide at noon")
		w.Press("Change the password")
		w.See("you are signed in only here")
		w.Press("Close")
	})
	w.step("the second browser is out", func() {
		err := other.Timeout(browser.Patience).
			Wait(rod.Eval(`() => document.body.innerText.includes('No live connection') || document.body.innerText.includes('Doors, decided and proved')`))
		require.NoError(t, err, other.Text())
		other.Go("/build")
		other.See("Doors, decided and proved")
	})
}
