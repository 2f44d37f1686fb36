#pragma once

#include "core/base/language.h"
#include "core/base/names.h"
#include "core/measures/analyse.h"
#include "core/reading/reading.h"

#include <string>
#include <vector>

namespace kite {

/// A reason or a good point as a sentence.
std::string sentence(const Because& because, const Language& language = {});

/// The parts of the reading, written out.
struct ReadingWords {
    std::string order;                ///< the order in one line
    std::string fix_title;            ///< the first fix, or that there is none
    std::string fix_why;              ///< one sentence
    std::vector<std::string> because; ///< in the order of Fault::because
    std::vector<std::string> set_up;  ///< in the order of Reading::noted()
    std::string leads_to;             ///< what the first fix explains here; may be empty
    std::string ball;                 ///< what the ball should show
    std::vector<std::string> good;    ///< in the order of Reading::good
    std::string certainty;            ///< how sure, and why
    std::string given;                ///< what was taken as given
};
ReadingWords write_words(const Analysis& analysis, const Reading& reading,
                         const Language& language = {});

} // namespace kite
