package demo

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

var estimateLines = []line{
	{"Plate renewal, side shell", 148_600}, {"Frames, renewal in part", 61_200}, {"Staging", 22_400}, {"Blasting", 18_900}, {"Coating, three coats", 31_700}, {"Gas-freeing and cleaning", 6_100}, {"Yard services, eight days", 14_300}, {"Class attendance", 9_200},
}

var reportSections = []section{
	{title: "Instruction and attendance", text: "We were instructed to examine the hull of the vessel, to gauge the plating of the side shell, and to report on its condition and on the repair that is needed to restore it to the standard of her class.\n\nOur surveyors attended at the berth and again in dock. The owners’ superintendent and the master were present and gave every assistance. The tanks were opened, ventilated and certified before entry."},
	{title: "The side shell", text: "The plating between frames 12 and 44 was cleaned to bright metal at the points of measurement. The figure shows the places; the place marked in red is frame 31, where the diminution exceeds what class permits.\n\nThe cause is in our opinion the loss of coating in way of the bilge well, over several years.", hull: true},
	{title: "Readings", text: "All readings in millimetres, by ultrasonic instrument, calibrated on the day. Diminution in per cent of the original thickness.", table: true},
	{title: "Repair", text: "We recommend that the plating be cropped and renewed from frame 29 to frame 33 between the second and the fourth longitudinal, that the frames in way be renewed in part, and that the whole of the side shell in the tank be blasted and coated.\n\nThe work can be done in eight days in dock. Our estimate of its cost stands in the spreadsheet of the same date."},
	{title: "Second surveyor’s remarks", text: "The readings at frame 31 were taken a second time by another surveyor with another instrument; all agree within 0.2 mm. The extent of the renewal is confirmed.", hull: true},
	{title: "Conclusion", text: "Subject to the repair described, and to the satisfaction of the class surveyor in attendance, the vessel is in our opinion fit for her service.\n\nThis report is given without prejudice to the rights of any party concerned."},
	{title: "Readings taken again", text: "The same points, after the plating had been cleaned a second time.", table: true},
}
