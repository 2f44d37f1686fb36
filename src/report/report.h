#pragma once

#include "core/base/language.h"
#include "core/practice/plan.h"
#include "core/reading/reading.h"
#include "core/sets/comparison.h"
#include "core/sets/swing_set.h"
#include "report/drawing.h"
#include "report/pictures/measured_swing.h"

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace kite::report {

// What a report is made of. HTML and paper are both made from these; texts are plain, UTF-8, in
// the reader's language.

struct Heading {
    std::string text;
};
struct Paragraph {
    enum class Tone { Plain, Soft, Large };
    std::string text;
    Tone tone = Tone::Plain;
};
struct Items {
    std::vector<std::string> items;
    bool numbered = false;
};
/// Texts left in the first column and where `left` says so, else right as numbers are.
struct Table {
    std::string caption;
    std::vector<std::string> head;
    std::vector<std::vector<std::string>> rows; ///< each as long as the head
    std::vector<bool> left;                     ///< a column each; empty: the first alone
    std::vector<double> shares;                 ///< of the width, a column each; empty: equal
};
/// A picture of pixels, such as a still of a film.
struct Photo {
    std::string png;
    double width_px = 0.0;
    double height_px = 0.0;
    std::string says; ///< beneath it, and for who cannot see it
};
struct Block;
/// Side by side where there is room.
struct Columns {
    std::vector<std::vector<Block>> columns;
    std::vector<double> shares; ///< of the width, adding up to 1
};
struct Block {
    std::variant<Heading, Paragraph, Items, Table, Drawing, Photo, Columns> is;
};

struct Page {
    std::string name; ///< said at its foot; the first page needs none
    std::vector<Block> blocks;
};

struct Report {
    std::string language = "en-GB"; ///< BCP 47
    std::string title;
    std::string subtitle;
    std::string accent; ///< "#rrggbb"
    std::vector<Page> pages;
    std::string page_words; ///< "page {1} of {2}", in the reader's language
};

inline const char* const kUsualAccent = "#b81d5b";

/// "#rrggbb" in lower case, if the text is such a colour and can be read on white paper (contrast
/// of 4.5 : 1, WCAG 2.1); else an error.
Outcome<std::string> paper_colour(const std::string& text);

/// What a report is about.
struct Told {
    std::string title;                    ///< empty: the usual one
    std::string accent;                   ///< empty: the usual one
    std::string subtitle;                 ///< who, when, where
    std::vector<const Analysis*> swings;  ///< one set of one golfer; at least one
    std::vector<const Reading*> readings; ///< one a swing
    const Take* example_take = nullptr;   ///< of the swing that read_set picks; may be missing
    const DrillBook* drills = nullptr;
    const School* school = nullptr;
    std::optional<Plan> plan;
    std::string one_thing; ///< in the instructor's own words; empty: the first fix's
    std::string homework;
    std::string note;
    std::vector<const Analysis*> before; ///< an earlier set of the same golfer; may be empty
    std::string before_name;
    CompareOptions comparing;  ///< of the two sets
    std::vector<Photo> stills; ///< of the film; a page of their own
    Language language;
    /// How a measure's unit is shown: the shown unit's size per unit of the measure, and its name.
    /// Empty: as it is.
    std::function<std::pair<double, std::string>(const std::string& unit)> shown_unit;
};

/// Two pages: one for the golfer in plain words, one of numbers; a third where there are stills of
/// the film. Cautions are always there.
Report make_report(const Told& told);

/// One file without anything beside it; reads on paper, a wide and a narrow screen.
std::string to_html(const Report& report);

/// A picture as SVG 1.1.
std::string to_svg(const Drawing& drawing, const std::string& accent);

} // namespace kite::report
