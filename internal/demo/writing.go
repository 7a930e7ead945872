package demo

import (
	"fmt"
	"strings"
)

// topic is a part of a vessel that reports speak of. Figures stand in braces and are
// filled from the vessel's own readings.
type topic struct {
	title             string
	opening, observed []string
	closing           []string
}

var topics = []topic{
	{"The side shell", []string{
		"The plating between frames {f1} and {f2} was cleaned to bright metal at the points of measurement and gauged on both sides.",
		"The shell was followed by staging from the turn of the bilge to the fender; nothing was left that could not be touched.",
	}, []string{
		"Below the rubbing strake the coating is lost over about {m2} square metres, and the plate is evenly pitted to {mm} mm.",
		"At frame {f3} the diminution is {pc} per cent of the original thickness, which is more than class permits for this strake.",
		"The insert that was renewed in the fourth year is sound; its welds show no undercut and were not ground.",
		"Scale had to be chipped before the probe would couple; under it the steel is bright and without lamination.",
		"Between frames {f1} and {f3} the plate is set in by up to {mm} mm, in our opinion from contact with a quay at slow speed.",
	}, []string{
		"The cause is in our opinion the loss of coating in way of the bilge well, over several years, and not the contact that was reported.",
		"We recommend that the plating be cropped and renewed between the second and the fourth longitudinal, in lengths of not less than 300 mm.",
	}},
	{"The bottom shell", []string{
		"The bottom was examined in dock after washing with fresh water at {bar} bar, before any of it was blasted.",
		"Docking blocks covered about one part in twenty of the bottom; those places were gauged from inside.",
	}, []string{
		"The flat of bottom is covered by a coating of even thickness that has failed at the block marks of the last docking only.",
		"Along the keel the loss is {pc} per cent at most; at the bilge radius it is less.",
		"Two shallow grooves run from frame {f1} to frame {f3}, {mm} mm deep, such as are made by a sounding lead or a chain.",
		"The bilge keels are straight and their doubling plates tight.",
	}, []string{
		"No repair of the bottom is asked for beyond the coating of {m2} square metres.",
		"The grooves may be faired by weld and grinding, which the yard has been asked to quote.",
	}},
	{"The main deck", []string{
		"The deck was examined from above over its whole length, and from below in the spaces that were open.",
		"Deck coverings were lifted at the places which the owners’ superintendent chose, and at two that we chose.",
	}, []string{
		"Standing water collects aft of the house, where the camber has been lost; the plate there is {mm} mm thinner than it was built.",
		"The hatch coaming is corroded at its foot on the starboard side from frame {f1} to frame {f3}.",
		"The pad eyes for lashings are worn by up to {pc} per cent of their section; eleven of them should be renewed.",
		"All scuppers were run with water and are clear.",
	}, []string{
		"The deck is in our opinion sound for the loads of the trade, once the coaming’s foot has been renewed.",
	}},
	{"Bulkheads and tank boundaries", []string{
		"The tanks were opened, ventilated and certified free of gas before entry; the certificate was renewed on each day of attendance.",
		"Bulkhead {f3} was hose tested at {bar} bar from its dry side, and the weld at its foot was examined by dye.",
	}, []string{
		"The coating of the tank is hard and holds at the edges; it has gone at the drain holes, as is usual.",
		"The stiffeners are straight. One bracket at frame {f1} is torn from its toe over {mm} mm.",
		"The suction is clear, and its bell stands {mm} mm off the plate.",
		"Wastage on the lower brackets is {pc} per cent; it has not reached the flange.",
	}, []string{
		"The bracket should be cropped and renewed with a softer toe; a sketch is attached to the estimate.",
	}},
	{"Sea chests and valves", []string{
		"All sea valves were opened up on the slip, their seats blued and their spindles drawn.",
	}, []string{
		"Two of nine seats were found scored and were ground in; the others needed nothing.",
		"The gratings are held by stainless bolts, three of which were missing; there is {mm} mm of wear in the hinge.",
		"Marine growth filled about {pc} per cent of the port sea chest.",
		"The anodes in the chests are spent and were renewed like for like.",
	}, []string{
		"The valves were boxed up in our presence and proved tight at {bar} bar.",
	}},
	{"Rudder and propeller", []string{
		"Clearances were taken with the vessel on the blocks, before the rudder was lifted.",
	}, []string{
		"The neck bush has a clearance of {mm} mm, where {limit} mm are allowed; the pintle is within its limits.",
		"The propeller has lost its tips to cavitation over a width of {mm} mm on two blades of four.",
		"The rope guard is in place and its welds are sound.",
		"Oil was drawn from the stern tube and found clear, with {pc} parts in a thousand of water.",
	}, []string{
		"The bush should be renewed at the next docking at the latest; until then its wear is to be taken every six months.",
	}},
	{"Coating and cathodic protection", []string{
		"Film thickness was taken at {n} places with an instrument that was calibrated on the day.",
	}, []string{
		"Above the waterline the film is between 280 and {um} micrometres and adheres well.",
		"Below it, {pc} per cent of the anodes’ weight is left, unevenly: the forward ones are hardly touched.",
		"Blisters of up to {mm} mm stand in groups near frame {f3}; those that were opened hold water that is slightly alkaline.",
		"The potential against a silver electrode was {mv} millivolts at the bow and less at the stern.",
	}, []string{
		"We recommend spot blasting to Sa 2½ and three coats; the area is put at {m2} square metres.",
		"The bonding of the rudder should be looked at by an electrician before the vessel is afloat.",
	}},
	{"Machinery spaces", []string{
		"The spaces were seen clean and lit, with the bilges dry; plates were lifted where we asked for it.",
	}, []string{
		"The foundations of both main engines are sound; the chocks were tapped and none rang loose.",
		"A pipe of the ballast system is clamped at frame {f1}; the clamp has been there, we were told, since the spring.",
		"Insulation is wetted with oil over less than a square metre, below the fuel pumps of number two.",
		"The bilge alarm came at {mm} mm above the plate and was heard on the bridge.",
	}, []string{
		"The clamped pipe is to be renewed before the vessel sails; a temporary repair is not accepted by class beyond one voyage.",
	}},
	{"Closing appliances and safety", []string{
		"Every weathertight door and hatch was closed and chalked, and the ramp was tried by ultrasound.",
	}, []string{
		"The bow visor’s locking pins were tried {n} times and went home each time; the indication on the bridge agrees.",
		"Two doors to the car deck leave a chalk line that is broken over {mm} mm at the lower hinge.",
		"The vent heads on the port side were opened; the floats are free.",
		"Lifesaving appliances are within their dates, with the exception of one hydrostatic release.",
	}, []string{
		"The gaskets of both doors are to be renewed; the release was changed while we were on board.",
	}},
	{"Earlier repairs", []string{
		"The owners laid before us the repair lists of the last three dockings and the class records of the same period.",
	}, []string{
		"Plate was renewed in the fourth year between frames {f1} and {f3}; the grade on the certificate is that on the plate.",
		"A doubling of {m2} square metres is noted in the list of the second docking; we found it and its drain plug.",
		"What is listed as painted in the third year has, by its film, been painted twice since.",
	}, []string{
		"The records and the vessel agree, apart from one bracket that no list names.",
	}},
}

// figures fill the braces of a text by what was measured.
func (p papers) figures(text string, at reading) string {
	for name, value := range map[string]string{
		"f1": fmt.Sprint(12 + p.rand.IntN(10)), "f2": fmt.Sprint(38 + p.rand.IntN(7)), "f3": fmt.Sprint(at.frame),
		"mm": fmt.Sprintf("%.1f", at.original-at.measured), "pc": fmt.Sprintf("%.0f", at.diminution()),
		"m2": fmt.Sprint(4 + p.rand.IntN(40)), "bar": fmt.Sprint(2 + p.rand.IntN(5)), "n": fmt.Sprint(12 + p.rand.IntN(30)),
		"um": fmt.Sprint(320 + 10*p.rand.IntN(12)), "mv": fmt.Sprint(-820 - p.rand.IntN(140)), "limit": fmt.Sprintf("%.1f", 3+p.rand.Float64()*2),
	} {
		text = strings.ReplaceAll(text, "{"+name+"}", value)
	}
	return text
}

// paragraphs write about a topic: an opening, what was seen, and what follows of it.
func (p papers) paragraphs(t topic, all []reading) []string {
	write := func(from []string) string {
		out := make([]string, len(from))
		for i, text := range from {
			out[i] = p.figures(text, all[p.rand.IntN(len(all))])
		}
		return strings.Join(out, " ")
	}
	observed := make([]string, len(t.observed))
	for i, at := range p.rand.Perm(len(observed)) {
		observed[i] = t.observed[at]
	}
	half := (len(observed) + 1) / 2
	return []string{write(t.opening), write(observed[:half]), write(observed[half:]), write(t.closing)}
}
