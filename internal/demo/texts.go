package demo

// mailText is what the owners wrote.
const mailText = `Dear colleagues,

the dock is confirmed from Monday, 7:00, for eight days. The tug is ordered for six o'clock. Please find the yard's confirmation attached, and tell us by Thursday whether the staging is to stand on both sides.

Kind regards
Odile Charron`

// scannedLines are on a certificate that came by post.
var scannedLines = []string{
	"This is to certify that the vessel named below was",
	"surveyed afloat and in dock, and that she is retained",
	"in her class, subject to the conditions overleaf.",
	"",
	"Name              Corran Lass",
	"Port of registry  Tessaly",
	"Built             1998",
	"Length            74.20 m",
	"",
	"Condition 1: plating in way of frame 31 to be gauged",
	"and reported within six months.",
	"",
	"Valid until the fourth annual survey.",
}

const letterTo = "Brackwater Ferries\nThe Fleet Office\nQuay 3\nTessaly"

const letterText = `Thank you for your letter. We confirm that our surveyors attended the vessel at her berth and in dock, that the plating was cleaned and gauged by ultrasonic instrument at the frames agreed, and that the readings were taken again where they differed by more than half a millimetre.

Our findings and the estimate of the repair follow under separate cover. Please let us know who may receive them on your behalf. They are given for the purpose named in our instruction and for no other.

We remain at your disposal for any question.`

const letterMore = "\n\nWe have since corrected the date of our attendance; nothing else is changed."

// noteMore is what further versions of a note say.
var noteMore = []string{
	"## Second visit\n\nThe scale was chipped off at frame 31. The pitting is as deep as noted, its extent a little less.",
	"The chief engineer says that the bilge well was last coated four years ago.",
	"The yard quotes plate of 10 mm within a week, of 12 mm within three.",
	"Agreed with Priya: the frames in way are renewed in part, not whole.",
}

var noteText = []string{
	"Taken on board, in the presence of the master. Weather dry, tank ventilated and certified free of gas.",
	"## What was seen\n\n- Side shell, frames 24 to 38: general corrosion, scale loose.\n- **Frame 31**: pitting over about 0.6 m², deepest 3.1 mm of 10.0 mm.\n- Bulkhead 24: sound; coating hard.\n- Welds of the replaced insert from the fourth year: sound.",
	"## To be done\n\n1. Gauge frame 31 a second time, with another instrument.\n2. Ask the yard for the price of plate of 10 mm, grade A.\n3. Tell the insurer before the dock is flooded.",
	"| Frame | Original, mm | Measured, mm | Diminution, % |\n|---|---|---|---|\n| 24 | 10.0 | 7.6 | 24.0 |\n| 31 | 10.0 | 6.9 | 31.0 |\n| 38 | 10.0 | 8.1 | 19.0 |",
}
