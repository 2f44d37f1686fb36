#pragma once

#include <string_view>
#include <vector>

namespace kite {

/// The little pictures that show where a measure is taken.
enum class Picture { FromAbove, FaceOn, DownTheLine, Peaks, Phases, Wrist };

/// What a measure or a quantity is, in words: one topic may serve several of them. Texts are marked
/// for translation in the context "measure".
struct Topic {
    const char* key;
    const char* name;
    const char* definition;
    const char* sign; ///< what positive means, and the unit
    const char* source;
    Picture picture;
};
const std::vector<Topic>& all_topics();

/// nullptr: nobody wrote about it.
const Topic* find_topic(std::string_view key);

} // namespace kite
