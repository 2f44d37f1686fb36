#include "core/base/number.h"
#include "report/report.h"

#include <boost/archive/iterators/base64_from_binary.hpp>
#include <boost/archive/iterators/transform_width.hpp>
#include <cmath>
#include <cstdio>

namespace kite::report {

namespace {

/// Text as HTML and XML take it; what neither may hold is left out.
std::string escaped(const std::string& text) {
    std::string out;
    for (const char letter : text) {
        switch (letter) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        case '\n':
        case '\t':
            out += letter;
            break;
        default:
            if (static_cast<unsigned char>(letter) >= 0x20)
                out += letter;
        }
    }
    return out;
}

std::string number(double value) {
    std::string out = fixed(value, 2);
    out.erase(out.find_last_not_of('0') + 1);
    if (!out.empty() && out.back() == '.')
        out.pop_back();
    return out;
}

std::string points_of(const Shape& shape) {
    std::string out;
    for (const Spot& spot : shape.points)
        out += (out.empty() ? "" : " ") + number(spot.x_mm) + "," + number(spot.y_mm);
    return out;
}

std::string stroke_of(const Shape& shape, const std::string& accent) {
    if (shape.stroke == Ink::None)
        return {};
    std::string out = " stroke=\"" + colour_on_paper(shape.stroke, accent) + "\" stroke-width=\"" +
                      number(shape.width_mm) +
                      "\" stroke-linecap=\"round\" stroke-linejoin=\"round\"";
    if (shape.dotted)
        out += " stroke-dasharray=\"" + number(0.2) + " " + number(2.0 * shape.width_mm) + "\"";
    if (shape.opacity < 1.0 && shape.fill == Ink::None)
        out += " stroke-opacity=\"" + number(shape.opacity) + "\"";
    return out;
}

std::string svg_of(const Shape& shape, const std::string& accent) {
    std::string fill = " fill=\"" + colour_on_paper(shape.fill, accent) + "\"";
    if (shape.opacity < 1.0 && shape.fill != Ink::None)
        fill += " fill-opacity=\"" + number(shape.opacity) + "\"";
    switch (shape.kind) {
    case Shape::Kind::Line:
        return "<polyline points=\"" + points_of(shape) + "\" fill=\"none\"" +
               stroke_of(shape, accent) + "/>";
    case Shape::Kind::Area:
        return "<polygon points=\"" + points_of(shape) + "\"" + fill + stroke_of(shape, accent) +
               "/>";
    case Shape::Kind::Disc:
        return "<ellipse cx=\"" + number(shape.points.front().x_mm) + "\" cy=\"" +
               number(shape.points.front().y_mm) + "\" rx=\"" + number(shape.size.x_mm) +
               "\" ry=\"" + number(shape.size.y_mm) + "\"" + fill + stroke_of(shape, accent) + "/>";
    case Shape::Kind::Words:
        break;
    }
    const char* anchor = shape.anchor == Anchor::Start    ? "start"
                         : shape.anchor == Anchor::Middle ? "middle"
                                                          : "end";
    return "<text x=\"" + number(shape.points.front().x_mm) + "\" y=\"" +
           number(shape.points.front().y_mm) + "\" font-size=\"" + number(shape.size.y_mm) +
           "\" text-anchor=\"" + anchor + "\"" + (shape.bold ? " font-weight=\"bold\"" : "") +
           fill + ">" + escaped(shape.words) + "</text>";
}

const char* const kFonts = "Lato, 'Helvetica Neue', Arial, sans-serif";

std::string style_of(const Report& report) {
    return "body{font:16px/1.45 " + std::string(kFonts) +
           ";color:#22252a;background:#fff;margin:0 auto;padding:1.2rem;max-width:56rem}"
           "header{border-bottom:3px solid " +
           report.accent +
           ";margin-bottom:.6rem}"
           "h1{margin:0;font-size:1.7rem}h2{color:" +
           report.accent +
           ";font-size:1.1rem;margin:1.1rem 0 .3rem}"
           "p{margin:.35rem 0}.soft{color:#5c6169}.large{font-size:1.3rem;font-weight:bold}"
           "ul,ol{margin:.35rem 0;padding-left:1.3rem}"
           ".beside{display:flex;flex-wrap:wrap;gap:0 1.4rem}.beside>div{flex:1 1 "
           "15rem;min-width:0}"
           ".beside .beside>div{flex-basis:8rem}"
           "figure{margin:.4rem "
           "0}img{max-width:100%;height:auto;max-height:80vh}svg{width:100%;height:auto;font-"
           "family:inherit}"
           ".wide{overflow-x:auto}.wide>svg{min-width:34rem}table{border-collapse:collapse;width:"
           "100%;font-size:.9rem;margin:"
           ".5rem 0}"
           "caption{text-align:left;font-weight:bold;padding:.5rem 0 .2rem}"
           "th,td{text-align:right;padding:.2rem .5rem;border-bottom:1px solid #cfccc4;"
           "vertical-align:top}th:first-child,td:first-child,.left{text-align:left}"
           "section+section{margin-top:2rem;border-top:1px solid #cfccc4}"
           "@media print{body{max-width:none;padding:0;font-size:10pt}"
           "section+section{break-before:page;border:0}}@page{size:A4;margin:14mm}";
}

std::string base64(const std::string& bytes) {
    using namespace boost::archive::iterators;
    using Letters = base64_from_binary<transform_width<std::string::const_iterator, 6, 8>>;
    std::string out(Letters(bytes.begin()), Letters(bytes.end()));
    out.append((3 - bytes.size() % 3) % 3, '=');
    return out;
}

class Html {
public:
    explicit Html(const Report& report) : report_(report) {}

    std::string write() {
        out_ = "<!DOCTYPE html>\n<html lang=\"" + escaped(report_.language) +
               "\">\n<head>\n<meta charset=\"utf-8\">\n"
               "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n<title>" +
               escaped(report_.title) + "</title>\n<style>" + style_of(report_) +
               "</style>\n</head>\n<body>\n<header>\n<h1>" + escaped(report_.title) + "</h1>\n";
        if (!report_.subtitle.empty())
            out_ += "<p class=\"soft\">" + escaped(report_.subtitle) + "</p>\n";
        out_ += "</header>\n<main>\n";
        for (const Page& page : report_.pages) {
            out_ +=
                "<section" +
                (page.name.empty() ? std::string() : " aria-label=\"" + escaped(page.name) + "\"") +
                ">\n";
            add(page.blocks);
            out_ += "</section>\n";
        }
        return out_ + "</main>\n</body>\n</html>\n";
    }

private:
    void add(const std::vector<Block>& blocks) {
        for (const Block& block : blocks)
            std::visit([this](const auto& it) { add(it); }, block.is);
    }
    void add(const Heading& it) { out_ += "<h2>" + escaped(it.text) + "</h2>\n"; }
    void add(const Paragraph& it) {
        const char* tone = it.tone == Paragraph::Tone::Soft    ? " class=\"soft\""
                           : it.tone == Paragraph::Tone::Large ? " class=\"large\""
                                                               : "";
        out_ += std::string("<p") + tone + ">" + escaped(it.text) + "</p>\n";
    }
    void add(const Items& it) {
        if (it.items.empty())
            return; // a list without entries is not valid
        const char* tag = it.numbered ? "ol" : "ul";
        out_ += std::string("<") + tag + ">\n";
        for (const std::string& item : it.items)
            out_ += "<li>" + escaped(item) + "</li>\n";
        out_ += std::string("</") + tag + ">\n";
    }
    void add(const Table& it) {
        const auto side = [&](std::size_t column) {
            return column < it.left.size() && it.left[column] ? " class=\"left\"" : "";
        };
        out_ += "<div class=\"wide\">\n<table>\n";
        if (!it.caption.empty())
            out_ += "<caption>" + escaped(it.caption) + "</caption>\n";
        out_ += "<thead>\n<tr>";
        for (std::size_t i = 0; i < it.head.size(); ++i)
            out_ +=
                std::string("<th scope=\"col\"") + side(i) + ">" + escaped(it.head[i]) + "</th>";
        out_ += "</tr>\n</thead>\n<tbody>\n";
        for (const auto& row : it.rows) {
            out_ += "<tr>";
            for (std::size_t i = 0; i < row.size(); ++i)
                out_ += std::string("<td") + side(i) + ">" + escaped(row[i]) + "</td>";
            out_ += "</tr>\n";
        }
        out_ += "</tbody>\n</table>\n</div>\n";
    }
    void add(const Drawing& it) {
        if (it.shapes.empty())
            return;
        // What is wide is scrolled on a telephone, not made too small to read.
        constexpr double kWide_mm = 100.0;
        out_ += std::string("<figure") + (it.width_mm > kWide_mm ? " class=\"wide\"" : "") + ">" +
                to_svg(it, report_.accent) + "</figure>\n";
    }
    void add(const Photo& it) {
        out_ += "<figure><img alt=\"" + escaped(it.says) + "\" src=\"data:image/png;base64," +
                base64(it.png) + "\"><figcaption class=\"soft\">" + escaped(it.says) +
                "</figcaption></figure>\n";
    }
    void add(const Columns& it) {
        out_ += "<div class=\"beside\">\n";
        for (std::size_t i = 0; i < it.columns.size(); ++i) {
            const double share = i < it.shares.size() ? it.shares[i] : 1.0;
            out_ += "<div style=\"flex-grow:" + number(100.0 * share) + "\">\n";
            add(it.columns[i]);
            out_ += "</div>\n";
        }
        out_ += "</div>\n";
    }

    const Report& report_;
    std::string out_;
};

} // namespace

std::string to_svg(const Drawing& drawing, const std::string& accent) {
    std::string out = "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 " +
                      number(drawing.width_mm) + " " + number(drawing.height_mm) +
                      "\" role=\"img\" aria-label=\"" + escaped(drawing.says) + "\">\n";
    for (const Shape& shape : drawing.shapes)
        out += svg_of(shape, accent) + "\n";
    return out + "</svg>";
}

std::string to_html(const Report& report) {
    return Html(report).write();
}

} // namespace kite::report
