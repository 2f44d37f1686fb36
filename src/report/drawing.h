#pragma once

#include <string>
#include <vector>

namespace kite::report {

/// What a line or an area stands for; a palette says its colour.
enum class Ink { None, Paper, Line, Soft, Text, Accent, Pelvis, Torso, LeadArm, Club };

/// Colours on paper, "#rrggbb". `accent` stands for Ink::Accent.
std::string colour_on_paper(Ink ink, const std::string& accent);

/// Millimetres from the top left corner, x to the right, y down.
struct Spot {
    double x_mm = 0.0;
    double y_mm = 0.0;
};

enum class Anchor { Start, Middle, End };

struct Shape {
    enum class Kind {
        Line, ///< through all points
        Area, ///< closed
        Disc, ///< about the one point, half axes in `size`
        Words ///< on the base line at the one point, `size.y_mm` high
    };
    Kind kind = Kind::Line;
    std::vector<Spot> points;
    Ink stroke = Ink::None;
    Ink fill = Ink::None;
    double width_mm = 0.3;
    bool dotted = false;
    double opacity = 1.0; ///< of the filling, or of a line
    Spot size;
    std::string words;
    Anchor anchor = Anchor::Start;
    bool bold = false;
};

/// A picture in lines and words, for any surface: paper, HTML, a widget.
struct Drawing {
    double width_mm = 0.0;
    double height_mm = 0.0;
    std::string says; ///< what is seen, in a sentence, for those who do not see it
    std::vector<Shape> shapes;

    Shape& line(std::vector<Spot> points, Ink ink, double pen_mm);
    Shape& area(std::vector<Spot> points, Ink fill, Ink stroke = Ink::None, double pen_mm = 0.3);
    Shape& disc(Spot at, double radius_mm, Ink fill, Ink stroke = Ink::None, double pen_mm = 0.3);
    Shape& words(Spot at, std::string text, double letters_mm, Ink ink,
                 Anchor anchor = Anchor::Start, bool bold = false);
};

} // namespace kite::report
