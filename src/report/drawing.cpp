#include "report/drawing.h"

#include <utility>

namespace kite::report {

std::string colour_on_paper(Ink ink, const std::string& accent) {
    switch (ink) {
    case Ink::None:
        return "none";
    case Ink::Paper:
        return "#ffffff";
    case Ink::Line:
        return "#cfccc4";
    case Ink::Soft:
        return "#5c6169";
    case Ink::Text:
        return "#22252a";
    case Ink::Accent:
        return accent;
    case Ink::Pelvis:
        return "#0b666a";
    case Ink::Torso:
        return "#694a94";
    case Ink::LeadArm:
        return "#8c5e0a";
    case Ink::Club:
        return "#444850";
    }
    return "none";
}

Shape& Drawing::line(std::vector<Spot> points, Ink ink, double pen_mm) {
    Shape shape;
    shape.points = std::move(points);
    shape.stroke = ink;
    shape.width_mm = pen_mm;
    return shapes.emplace_back(std::move(shape));
}

Shape& Drawing::area(std::vector<Spot> points, Ink fill, Ink stroke, double pen_mm) {
    Shape& shape = line(std::move(points), stroke, pen_mm);
    shape.kind = Shape::Kind::Area;
    shape.fill = fill;
    return shape;
}

Shape& Drawing::disc(Spot at, double radius_mm, Ink fill, Ink stroke, double pen_mm) {
    Shape& shape = area({at}, fill, stroke, pen_mm);
    shape.kind = Shape::Kind::Disc;
    shape.size = {radius_mm, radius_mm};
    return shape;
}

Shape& Drawing::words(Spot at, std::string text, double letters_mm, Ink ink, Anchor anchor,
                      bool bold) {
    Shape& shape = area({at}, ink);
    shape.kind = Shape::Kind::Words;
    shape.size = {0.0, letters_mm};
    shape.words = std::move(text);
    shape.anchor = anchor;
    shape.bold = bold;
    return shape;
}

} // namespace kite::report
