#include "paper/pages.h"

#include "paper/fonts.h"
#include "paper/paint.h"

#include <QBuffer>
#include <QFontMetricsF>
#include <QImage>
#include <QPageLayout>
#include <QPagedPaintDevice>
#include <QPdfWriter>

#include <algorithm>
#include <cmath>

namespace kite::paper {

using report::Block;
using report::colour_on_paper;
using report::Columns;
using report::Drawing;
using report::Heading;
using report::Ink;
using report::Items;
using report::Page;
using report::Paragraph;
using report::Photo;
using report::Report;
using report::Table;

namespace {

// Everything is laid out in hundredths of a millimetre, so that fonts in whole pixels are exact.
constexpr double kPerMm = 100.0;
constexpr double kMargin = 14.0 * kPerMm;
constexpr double kFoot = 7.0 * kPerMm;
constexpr double kWidth = Pages::kWidth_mm * kPerMm - 2.0 * kMargin;
constexpr double kBottom = Pages::kHeight_mm * kPerMm - kMargin - kFoot;

/// Something with a height that is not cut by the end of a page.
struct Piece {
    double height = 0.0;
    std::function<void(QPainter&, double x, double y)> paint;
    bool with_next = false;            ///< does not stand alone at the foot of a page
    std::shared_ptr<const Piece> head; ///< stands above it again on a new page
};
using Pieces = std::vector<Piece>;

struct Face {
    double height_mm;
    QFont::Weight weight = QFont::Normal;
};

QFont font_of(const Face& face) {
    QFont out(QString::fromLatin1(kFamily));
    out.setPixelSize(static_cast<int>(std::lround(face.height_mm * kPerMm)));
    out.setWeight(face.weight);
    out.setHintingPreference(QFont::PreferNoHinting);
    without_ligatures(out);
    return out;
}

constexpr double kUnlimited = 1e7;

/// A text that wraps at a width.
struct Wrapped {
    QString text;
    QFont font;
    double width;
    int flags;

    Wrapped(const std::string& words, const Face& face, double wide, bool right = false)
        : text(QString::fromStdString(words)), font(font_of(face)), width(wide),
          flags(Qt::TextWordWrap | Qt::AlignTop | (right ? Qt::AlignRight : Qt::AlignLeft)) {}
    double height() const {
        return QFontMetricsF(font)
            .boundingRect(QRectF(0.0, 0.0, width, kUnlimited), flags, text)
            .height();
    }
    void paint(QPainter& painter, double x, double y, const QColor& colour) const {
        painter.setFont(font);
        painter.setPen(colour);
        painter.drawText(QRectF(x, y, width, kUnlimited), flags, text);
    }
};

/// Blocks to pieces, at a width.
class Setter {
public:
    explicit Setter(const std::string& accent) : accent_(accent) {}

    Palette palette() const {
        return [accent = accent_](Ink ink) {
            return QColor(QString::fromStdString(colour_on_paper(ink, accent)));
        };
    }
    QColor ink(Ink ink) const { return palette()(ink); }

    Pieces set(const std::vector<Block>& blocks, double width) const {
        Pieces out;
        for (const Block& block : blocks)
            std::visit([&](const auto& it) { add(out, it, width); }, block.is);
        return out;
    }
    Piece text(const std::string& words, const Face& face, double width, Ink colour,
               double before_mm, double after_mm) const {
        const Wrapped wrapped(words, face, width);
        const double before = before_mm * kPerMm;
        return {wrapped.height() + before + after_mm * kPerMm,
                [wrapped, before, colour = ink(colour)](QPainter& painter, double x, double y) {
                    wrapped.paint(painter, x, y + before, colour);
                },
                false, nullptr};
    }

private:
    static constexpr Face kText{3.3};

    void add(Pieces& out, const Heading& it, double width) const {
        out.push_back(
            text(it.text, {3.7, QFont::Bold}, width, Ink::Accent, out.empty() ? 0.6 : 2.6, 0.7));
        out.back().with_next = true;
    }
    void add(Pieces& out, const Paragraph& it, double width) const {
        switch (it.tone) {
        case Paragraph::Tone::Large:
            out.push_back(text(it.text, {4.8, QFont::DemiBold}, width, Ink::Text, 0.3, 1.0));
            break;
        case Paragraph::Tone::Soft:
            out.push_back(text(it.text, {3.0}, width, Ink::Soft, 0.0, 0.9));
            break;
        case Paragraph::Tone::Plain:
            out.push_back(text(it.text, kText, width, Ink::Text, 0.0, 0.9));
            break;
        }
    }
    void add(Pieces& out, const Items& it, double width) const {
        const double indent = 4.2 * kPerMm;
        for (std::size_t i = 0; i < it.items.size(); ++i) {
            const Wrapped mark(it.numbered ? std::to_string(i + 1) + "." : "–", kText, indent);
            Piece piece = text(it.items[i], kText, width - indent, Ink::Text, 0.0, 0.6);
            piece.paint = [mark, inner = piece.paint, colour = ink(Ink::Soft),
                           indent](QPainter& painter, double x, double y) {
                mark.paint(painter, x, y, colour);
                inner(painter, x + indent, y);
            };
            out.push_back(piece);
        }
    }
    void add(Pieces& out, const Drawing& it, double width) const {
        if (it.shapes.empty())
            return;
        // As large as it was made, if there is room.
        const double scale = std::min(1.0, width / (it.width_mm * kPerMm));
        const double high = it.height_mm * kPerMm * scale;
        const double wide = it.width_mm * kPerMm * scale;
        out.push_back(
            {high + 1.2 * kPerMm,
             [it, high, wide, palette = palette()](QPainter& painter, double x, double y) {
                 paper::paint(painter, it, QRectF(x, y, wide, high), palette);
             },
             false, nullptr});
    }
    void add(Pieces& out, const Photo& it, double width) const {
        const QImage image = QImage::fromData(QByteArray::fromStdString(it.png), "PNG");
        if (image.isNull())
            return;
        constexpr double kHighest_mm = 190.0;
        const double scale = std::min(width / image.width(), kHighest_mm * kPerMm / image.height());
        const QSizeF size(scale * image.width(), scale * image.height());
        out.push_back({size.height() + 1.2 * kPerMm,
                       [image, size](QPainter& painter, double x, double y) {
                           painter.setRenderHint(QPainter::SmoothPixmapTransform);
                           painter.drawImage(QRectF(QPointF(x, y), size), image);
                       },
                       true, nullptr});
        out.push_back(text(it.says, {3.0}, width, Ink::Soft, 0.0, 0.9));
    }
    void add(Pieces& out, const Columns& it, double width) const {
        const double gap = 6.0 * kPerMm;
        const double room = width - gap * static_cast<double>(it.columns.size() - 1);
        std::vector<std::pair<double, Pieces>> columns; // from the left edge
        double x = 0.0;
        double high = 0.0;
        for (std::size_t i = 0; i < it.columns.size(); ++i) {
            const double wide = it.columns.size() == 1 ? width : room * it.shares[i];
            columns.emplace_back(x, set(it.columns[i], wide));
            x += wide + gap;
            double sum = 0.0;
            for (const Piece& piece : columns.back().second)
                sum += piece.height;
            high = std::max(high, sum);
        }
        out.push_back({high,
                       [columns](QPainter& painter, double left, double top) {
                           for (const auto& [across, pieces] : columns) {
                               double y = top;
                               for (const Piece& piece : pieces) {
                                   piece.paint(painter, left + across, y);
                                   y += piece.height;
                               }
                           }
                       },
                       false, nullptr});
    }

    Piece row(const Table& table, const std::vector<std::string>& cells, double width,
              const Face& face, Ink colour) const {
        const double pad = 1.2 * kPerMm;
        std::vector<std::pair<double, Wrapped>> texts;
        double x = 0.0;
        double high = 0.0;
        const auto count = static_cast<double>(cells.size());
        for (std::size_t i = 0; i < cells.size(); ++i) {
            const double wide = width * (i < table.shares.size() ? table.shares[i] : 1.0 / count);
            const bool is_left = i < table.left.size() ? table.left[i] : i == 0;
            // The first column begins at the edge.
            texts.emplace_back(
                x + (i == 0 ? 0.0 : pad),
                Wrapped(cells[i], face, wide - (i == 0 ? 1.0 : 2.0) * pad, !is_left));
            high = std::max(high, texts.back().second.height());
            x += wide;
        }
        const double whole = high + 1.3 * kPerMm;
        return {whole,
                [texts, whole, width, colour = ink(colour),
                 line = ink(Ink::Line)](QPainter& painter, double left, double y) {
                    for (const auto& [across, wrapped] : texts)
                        wrapped.paint(painter, left + across, y + 0.35 * kPerMm, colour);
                    painter.setPen(QPen(line, 0.15 * kPerMm));
                    painter.drawLine(QPointF(left, y + whole), QPointF(left + width, y + whole));
                },
                false, nullptr};
    }
    void add(Pieces& out, const Table& it, double width) const {
        const Face small{2.9};
        if (!it.caption.empty()) {
            out.push_back(text(it.caption, {3.3, QFont::DemiBold}, width, Ink::Text, 2.4, 0.6));
            out.back().with_next = true;
        }
        const auto head = std::make_shared<const Piece>(
            row(it, it.head, width, {2.9, QFont::DemiBold}, Ink::Soft));
        out.push_back(*head);
        out.back().with_next = true;
        for (const auto& cells : it.rows) {
            out.push_back(row(it, cells, width, small, Ink::Text));
            out.back().head = head;
        }
    }

    std::string accent_;
};

} // namespace

struct Pages::Laid {
    Report report;
    struct Placed {
        double y;
        Piece piece;
    };
    struct Sheet {
        std::vector<Placed> placed;
        std::string name;
    };
    std::vector<Sheet> sheets;
    Setter setter;
    double y = kMargin;

    explicit Laid(Report whole) : report(std::move(whole)), setter(report.accent) {
        for (const Page& page : report.pages) {
            begin_sheet(page.name);
            if (sheets.size() == 1)
                place_title();
            place(setter.set(page.blocks, kWidth));
        }
    }
    void begin_sheet(const std::string& name) {
        sheets.push_back({{}, name});
        y = kMargin;
    }
    void put(const Piece& piece) {
        sheets.back().placed.push_back({y, piece});
        y += piece.height;
    }
    void place_title() {
        put(setter.text(report.title, {7.0, QFont::Bold}, kWidth, Ink::Text, 0.0, 0.4));
        if (!report.subtitle.empty())
            put(setter.text(report.subtitle, {3.3}, kWidth, Ink::Soft, 0.0, 0.6));
        put({2.2 * kPerMm,
             [colour = setter.ink(Ink::Accent)](QPainter& painter, double x, double at) {
                 painter.setPen(QPen(colour, 0.7 * kPerMm));
                 const double line = at + 0.8 * kPerMm;
                 painter.drawLine(QPointF(x, line), QPointF(x + kWidth, line));
             },
             false, nullptr});
    }
    void place(const Pieces& pieces) {
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            double needed = pieces[i].height;
            for (std::size_t j = i; j + 1 < pieces.size() && pieces[j].with_next; ++j)
                needed += pieces[j + 1].height;
            const bool is_first = sheets.back().placed.empty();
            if (y + needed > kBottom && !is_first) {
                begin_sheet(sheets.back().name);
                if (pieces[i].head)
                    put(*pieces[i].head);
            }
            put(pieces[i]);
        }
    }
};

Pages::Pages(Report report) {
    load_fonts();
    laid_ = std::make_unique<Laid>(std::move(report));
}
Pages::~Pages() = default;

int Pages::count() const {
    return static_cast<int>(laid_->sheets.size());
}

void Pages::paint(QPainter& painter, int page, double per_mm) const {
    const Laid::Sheet& sheet = laid_->sheets.at(static_cast<std::size_t>(page));
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.scale(per_mm / kPerMm, per_mm / kPerMm);
    for (const auto& [y, piece] : sheet.placed)
        piece.paint(painter, kMargin, y);
    const std::string numbers = QString::fromStdString(laid_->report.page_words)
                                    .replace(QLatin1String("{1}"), QString::number(page + 1))
                                    .replace(QLatin1String("{2}"), QString::number(count()))
                                    .toStdString();
    const std::string left = laid_->report.title + (sheet.name.empty() ? "" : " · " + sheet.name);
    const QColor soft = laid_->setter.ink(Ink::Soft);
    const double y = kBottom + 3.4 * kPerMm;
    Wrapped(left, {2.7}, 0.75 * kWidth).paint(painter, kMargin, y, soft);
    Wrapped(numbers, {2.7}, 0.25 * kWidth, true).paint(painter, kMargin + 0.75 * kWidth, y, soft);
    painter.restore();
}

bool Pages::print(QPagedPaintDevice& device) const {
    device.setPageSize(QPageSize(QPageSize::A4));
    device.setPageOrientation(QPageLayout::Portrait);
    device.setPageMargins(QMarginsF(0, 0, 0, 0));
    QPainter painter;
    if (!painter.begin(&device))
        return false;
    const double per_mm = device.width() / kWidth_mm;
    for (int page = 0; page < count(); ++page) {
        if (page > 0 && !device.newPage())
            return false;
        paint(painter, page, per_mm);
    }
    return painter.end();
}

std::string pdf_of(const Report& report) {
    const Pages pages(report);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        writer.setTitle(QString::fromStdString(report.title));
        writer.setCreator(QStringLiteral("Kite Hinge"));
        writer.setResolution(600);
        if (!pages.print(writer))
            return {};
    }
    return bytes.toStdString();
}

} // namespace kite::paper
