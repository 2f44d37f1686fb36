#include "core/reading/words.h"

#include "core/base/units.h"
#include "core/reading/ball_flight.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

std::string write_order(const Analysis& analysis, const Language& language) {
    const Sequence& sequence = analysis.sequence;
    if (sequence.order.size() < 2)
        return language.translate(KITE_TR("The order of the peaks cannot be told."));
    // Parts tied with the one before are joined with "=", others with an arrow.
    std::string line;
    for (std::size_t i = 0; i < sequence.order.size(); ++i) {
        if (i > 0)
            line += sequence.is_tied(sequence.order[i - 1], sequence.order[i]) ? " = " : " \u2192 ";
        line += language.translate(std::string(name_of(sequence.order[i])));
    }
    return line;
}

std::string write_certainty(const Analysis& analysis, const Language& language) {
    std::string out;
    const double certainty = analysis.sequence.order_certainty;
    if (std::isfinite(certainty)) {
        const double percent = 100.0 * certainty;
        if (percent > 99.0)
            out = language.translate(
                KITE_TR("Pelvis, torso, lead arm, club in that order: more than 99 % certain."));
        else if (percent < 1.0)
            out = language.translate(
                KITE_TR("Pelvis, torso, lead arm, club in that order: less than 1 % likely."));
        else
            out = filled(KITE_TR("Pelvis, torso, lead arm, club in that order: {1} % likely."),
                         {written(percent, 0, language)}, language);
    }
    double widest_ms = 0.0;
    for (Segment segment : kSequence)
        if (const SegmentSequence* part = analysis.sequence.find(segment))
            if (std::isfinite(part->peak_t_u_s))
                widest_ms = std::max(widest_ms, ms_from_s(part->peak_t_u_s));
    if (widest_ms > 0.0)
        out += (out.empty() ? "" : " ") +
               filled(KITE_TR("Peak times are known to ±{1} ms or better (95 %)."),
                      {written(std::max(1.0, std::ceil(2.0 * widest_ms)), 0, language)}, language);
    if (!analysis.moments[Moment::Impact])
        return out + (out.empty() ? "" : " ") + language.translate(KITE_TR("Impact is not known."));
    const char* source = nullptr;
    switch (analysis.moments.impact_source) {
    case ImpactSource::Contact:
        source = KITE_TR("Impact is the file's contact mark.");
        break;
    case ImpactSource::ClubHead:
        source = KITE_TR("Impact is where the club head passes its place at address.");
        break;
    case ImpactSource::Shaft:
        source = KITE_TR("Impact is where the shaft passes its direction at address.");
        break;
    case ImpactSource::Peak:
        source = KITE_TR("Impact is assumed at the club's fastest moment.");
        break;
    case ImpactSource::Arm:
        source = KITE_TR("Impact is assumed where the lead arm passes its direction at address.");
        break;
    case ImpactSource::Hand:
        source = KITE_TR("Impact was set by hand.");
        break;
    }
    if (analysis.source == Source::Film && analysis.moments.impact_source == ImpactSource::Contact)
        source = KITE_TR("Impact is as it was marked in the film.");
    if (analysis.moments.impact_by_blow)
        source = KITE_TR("Impact is assumed where the club suddenly loses speed.");
    return out + (out.empty() ? "" : " ") + language.translate(source);
}

/// What no motion can contradict, said once.
std::string write_given(const Analysis& analysis, const Language& language) {
    const char* given = nullptr;
    switch (analysis.source) {
    case Source::Markers:
        given =
            KITE_TR("Taken as given: the cameras' calibration, and markers that sit where their "
                    "names say.");
        break;
    case Source::Joints:
        given = KITE_TR("Taken as given: that the skeleton's joints are the golfer's.");
        break;
    case Source::Sensors:
        given =
            KITE_TR("Taken as given: that the sensors' clocks agree, that each sits on its part "
                    "as stated, and that the golfer stands square at address.");
        break;
    case Source::Rates:
        given = KITE_TR("Taken as given: the speeds as the file has them, and that their clocks "
                        "agree.");
        break;
    case Source::Film:
        given = KITE_TR("Taken as given: the rate at which the film was taken, and that belt and "
                        "shoulder lines turn with the body.");
        break;
    case Source::Poses:
    case Source::Angles:
        given = KITE_TR("Taken as given: the file's own calibration, and that its parts share one "
                        "clock.");
        break;
    }
    std::string out = language.translate(given);
    if (analysis.moments.impact_source == ImpactSource::Contact && analysis.source != Source::Film)
        out += " " + language.translate(KITE_TR("So is the clock of the contact mark."));
    if (!analysis.club_said)
        out += " " + language.translate(
                         KITE_TR("Nobody said the club: what is usual with an iron stands in."));
    return out;
}

/// What was found of the set-up, and whether the first fix may begin there.
std::string write_note(const Fault& note, const Reading& reading, const Language& language) {
    std::string out = language.translate(note.title) + ".";
    for (const Because& because : note.because)
        out += " " + sentence(because, language);
    if (reading.may_begin_with(note))
        out +=
            " " + filled(KITE_TR("“{1}” may begin here."),
                         {language.translate(reading.find(*reading.first_fix)->title)}, language);
    return out;
}

} // namespace

std::string sentence(const Because& because, const Language& language) {
    std::vector<std::string> values;
    for (const Because::Value& value : because.values)
        values.push_back(value.name.empty() ? written(value.number, value.decimals, language)
                                            : language.translate(value.name));
    return filled(because.text, values, language);
}

ReadingWords write_words(const Analysis& analysis, const Reading& reading,
                         const Language& language) {
    ReadingWords out;
    out.order = write_order(analysis, language);
    out.certainty = write_certainty(analysis, language);
    out.given = write_given(analysis, language);
    for (const Because& good : reading.good)
        out.good.push_back(sentence(good, language));
    for (const Fault* note : reading.noted())
        out.set_up.push_back(write_note(*note, reading, language));
    if (!reading.first_fix) {
        std::ptrdiff_t judged = 0;
        std::ptrdiff_t all = 0;
        for (const Fault& fault : reading.faults) {
            judged += fault.evidence ? 1 : 0;
            all += fault.evidence || fault.applies ? 1 : 0;
        }
        // What most rules could look at and did not find is not there; of less nothing is said.
        const bool most = 5 * judged >= 4 * all && judged > 0;
        out.fix_title =
            language.translate(most ? KITE_TR("Nothing to mend here") : KITE_TR("No fault shown"));
        out.fix_why =
            judged == all
                ? language.translate(
                      KITE_TR("None of the faults judged has enough evidence in this swing."))
                : filled(KITE_TR("{1} faults were judged and none has enough evidence; {2} could "
                                 "not be judged from this source."),
                         {std::to_string(judged), std::to_string(all - judged)}, language);
        return out;
    }
    const Fault& fault = *reading.find(*reading.first_fix);
    out.fix_title = language.translate(fault.title);
    out.fix_why = language.translate(fault.why);
    if (reading.goal_decided)
        out.fix_why += " " + language.translate(
                                 KITE_TR("Among near-equals the golfer's goal decided for this."));
    out.ball = language.translate(fault.ball);
    if (const std::string agreement = ball_agreement(analysis, fault, language); !agreement.empty())
        out.ball += (out.ball.empty() ? "" : " ") + agreement;
    for (const Because& because : fault.because)
        out.because.push_back(sentence(because, language));
    for (const std::string& id : reading.explained)
        out.leads_to +=
            (out.leads_to.empty() ? "" : "; ") + language.translate(reading.find(id)->title);
    return out;
}

} // namespace kite
