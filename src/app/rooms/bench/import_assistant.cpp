#include "app/rooms/bench/import_assistant.h"

#include "app/session/workers.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "formats/names/name_table.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileInfo>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <QtConcurrent>
#include <qcustomplot.h>

#include <cmath>

namespace kite::app {

namespace {

constexpr int kSoon_ms = 200; ///< a pause in answering

enum TableColumn { kName, kIs, kUnit, kTurned };

QString from(const std::string& text) {
    return QString::fromStdString(text);
}

/// The box in a cell of the table.
template <class Box>
Box* box_at(const QTableWidget* table, int row, int column) {
    return qobject_cast<Box*>(table->cellWidget(row, column));
}

QString axis_text(SignedAxis axis) {
    return from(text_of(axis)).replace(QLatin1Char('-'), QChar(0x2212));
}

constexpr double kAlongAxis_deg = -181.0; ///< below all directions: none was told

QString target_text(const LabAxes& axes) {
    return from(text_of_target(axes)).replace(QLatin1Char('-'), QChar(0x2212));
}

QComboBox* make_axis_box(QWidget* parent, const char* name) {
    auto* box = new QComboBox(parent);
    box->setObjectName(QString::fromLatin1(name));
    box->addItem(ImportAssistant::tr("as found"), QString());
    box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    for (const char* axis : {"+x", "-x", "+y", "-y", "+z", "-z"})
        box->addItem(QString::fromLatin1(axis).replace(QLatin1Char('-'), QChar(0x2212)),
                     QString::fromLatin1(axis));
    return box;
}

void select_axis(QComboBox* box, const std::optional<SignedAxis>& axis) {
    box->setCurrentIndex(axis ? box->findData(from(text_of(*axis))) : 0);
}

} // namespace

ImportAssistant::ImportAssistant(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Import assistant"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 14, 14, 12);
    title_ = new QLabel(this);
    lead_ = new QLabel(this);
    lead_->setObjectName(QStringLiteral("soft"));
    lead_->setWordWrap(true);
    layout->addWidget(title_);
    layout->addWidget(lead_);

    layout->addLayout(make_middle(), 1);

    result_text_ = new QLabel(this);
    result_text_->setObjectName(QStringLiteral("import_result"));
    result_text_->setWordWrap(true);
    layout->addWidget(result_text_);

    layout->addLayout(make_foot());

    soon_.setSingleShot(true);
    soon_.setInterval(kSoon_ms);
    connect(&soon_, &QTimer::timeout, this, &ImportAssistant::try_now);
    connect(&inspecting_, &QFutureWatcherBase::finished, this, [this] {
        if (!inspecting_.future().isResultReadyAt(0))
            return; // given up
        subject_ = inspecting_.result();
        show_subject();
    });
    connect(&trying_, &QFutureWatcherBase::finished, this, [this] {
        if (soon_.isActive() || !trying_.future().isResultReadyAt(0))
            return; // a newer answer follows, or another file
        result_ = trying_.result();
        busy_ = false;
        show_result();
    });
    connect(table_, &QTableWidget::currentCellChanged, this, &ImportAssistant::show_raw);
    for (QComboBox* box : {up_, target_})
        connect(box, &QComboBox::activated, this, &ImportAssistant::changed);
    for (QDoubleSpinBox* box : {rows_hz_, target_deg_})
        connect(box, &QDoubleSpinBox::valueChanged, this, &ImportAssistant::changed);
    connect(take_, &QPushButton::clicked, this, [this] { emit answered(*subject_, answer()); });
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        restyle();
        show_raw();
        show_result();
    });
    restyle();
}

QLayout* ImportAssistant::make_middle() {
    auto* middle = new QHBoxLayout;
    table_ = new QTableWidget(this);
    table_->setObjectName(QStringLiteral("import_table"));
    table_->setAccessibleName(tr("What is in the file, and what it is"));
    table_->verticalHeader()->hide();
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    auto* card = new QFrame(this);
    card->setObjectName(QStringLiteral("card"));
    auto* inside = new QVBoxLayout(card);
    inside->setContentsMargins(6, 6, 6, 6);
    inside->addWidget(table_);
    middle->addWidget(card, 5);
    plot_ = new QCustomPlot(this);
    plot_->setObjectName(QStringLiteral("import_plot"));
    plot_->setAccessibleName(tr("The chosen column, and the rotation speeds that come of it"));
    plot_->setMinimumSize(240, 240);
    plot_->plotLayout()->clear();
    for (QCPAxisRect** rect : {&raw_, &rates_}) {
        *rect = new QCPAxisRect(plot_);
        plot_->plotLayout()->addElement(plot_->plotLayout()->rowCount(), 0, *rect);
        for (QCPAxis* axis : (*rect)->axes()) {
            axis->setLayer(QStringLiteral("axes"));
            axis->grid()->setLayer(QStringLiteral("grid"));
        }
    }
    middle->addWidget(plot_, 6);
    return middle;
}

void ImportAssistant::make_axes() {
    axes_box_ = new QWidget(this);
    auto* axes = new QHBoxLayout(axes_box_);
    axes->setContentsMargins(0, 0, 0, 0);
    up_ = make_axis_box(axes_box_, "import_up");
    target_ = make_axis_box(axes_box_, "import_target");
    axes->addWidget(new QLabel(tr("Up"), axes_box_));
    axes->addWidget(up_);
    axes->addWidget(new QLabel(tr("Target"), axes_box_));
    axes->addWidget(target_);
    // A lab that does not lie along the target line.
    target_deg_ = new QDoubleSpinBox(axes_box_);
    target_deg_->setObjectName(QStringLiteral("import_target_deg"));
    target_deg_->setAccessibleName(tr("Target line in degrees from the x axis"));
    target_deg_->setToolTip(tr("Where the target line does not lie along an axis: its direction in "
                               "degrees from +x (+y where x points up), counter-clockwise from "
                               "above"));
    target_deg_->setRange(kAlongAxis_deg, 180.0);
    target_deg_->setDecimals(1);
    target_deg_->setSuffix(QStringLiteral("°"));
    target_deg_->setSpecialValueText(tr("along it"));
    target_deg_->setValue(kAlongAxis_deg);
    axes->addWidget(target_deg_);
}

QLayout* ImportAssistant::make_foot() {
    auto* foot = new QHBoxLayout;
    make_axes();
    foot->addWidget(axes_box_);
    rows_box_ = new QWidget(this);
    auto* rows = new QHBoxLayout(rows_box_);
    rows->setContentsMargins(0, 0, 0, 0);
    rows_hz_ = new QDoubleSpinBox(rows_box_);
    rows_hz_->setObjectName(QStringLiteral("import_rows_hz"));
    rows_hz_->setRange(1.0, 10000.0);
    rows_hz_->setDecimals(1);
    rows_hz_->setValue(240.0);
    rows_hz_->setSuffix(tr(" rows a second"));
    rows->addWidget(new QLabel(tr("No time column:"), rows_box_));
    rows->addWidget(rows_hz_);
    foot->addWidget(rows_box_);
    foot->addStretch(1);
    name_ = new QLineEdit(this);
    name_->setObjectName(QStringLiteral("import_name"));
    name_->setPlaceholderText(tr("Remember it as"));
    name_->setAccessibleName(tr("Name under which this is remembered"));
    foot->addWidget(name_);
    auto* give_up = new QPushButton(tr("Not now"), this);
    connect(give_up, &QPushButton::clicked, this, &ImportAssistant::given_up);
    take_ = new QPushButton(tr("Read it so"), this);
    take_->setObjectName(QStringLiteral("primary"));
    foot->addWidget(give_up);
    foot->addWidget(take_);
    return foot;
}

void ImportAssistant::restyle() {
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    title_->setFont(theme.font(22, Theme::Weight::Bold));
    lead_->setFont(theme.font(13));
    table_->setFont(theme.font(13));
    table_->verticalHeader()->setDefaultSectionSize(theme.scaled(32));
    result_text_->setFont(theme.font(13));
    plot_->setBackground(QBrush(c.surface));
    for (QCPAxisRect* rect : {raw_, rates_})
        for (QCPAxis* axis : rect->axes()) {
            axis->setBasePen(QPen(c.line));
            axis->setTickPen(QPen(c.line));
            axis->setSubTickPen(Qt::NoPen);
            axis->grid()->setPen(QPen(c.line, 1, Qt::DotLine));
            axis->setTickLabelColor(c.soft);
            axis->setLabelColor(c.soft);
            axis->setTickLabelFont(theme.font(11));
            axis->setLabelFont(theme.font(12));
        }
}

void ImportAssistant::open(const QString& path, const AxisHints& axes,
                           const formats::ReadOptions& read_options,
                           const AnalysisOptions& options) {
    // What is still on its way belongs to another file.
    inspecting_.setFuture({});
    trying_.setFuture({});
    soon_.stop();
    subject_ = nullptr;
    result_ = nullptr;
    read_options_ = read_options;
    options_ = options;
    table_->setRowCount(0);
    take_->setEnabled(false);
    name_->clear();
    select_axis(up_, axes.up);
    select_axis(target_, axes.target);
    {
        const QSignalBlocker quiet(target_deg_);
        target_deg_->setValue(axes.target_deg.value_or(kAlongAxis_deg));
    }
    title_->setText(tr("What is in %1?").arg(QFileInfo(path).fileName()));
    lead_->setText(tr("Looking …"));
    result_text_->clear();
    busy_ = true;
    inspecting_.setFuture(QtConcurrent::run(&workers(), inspect_file, path));
}

void ImportAssistant::add_row(int row, const QString& name) {
    auto* item = new QTableWidgetItem(name);
    item->setToolTip(name);
    table_->setItem(row, kName, item);
    auto* is = new QComboBox(table_);
    is->setAccessibleName(tr("%1 is").arg(name));
    is->addItem(tr("not used"), QString());
    table_->setCellWidget(row, kIs, is);
    connect(is, &QComboBox::activated, this, [this, row] {
        if (subject_->kind == ImportSubject::Kind::Columns)
            units_of(row, 1.0);
        table_->setCurrentCell(row, kName);
        changed();
    });
}

void ImportAssistant::units_of(int row, double factor) {
    auto* unit = box_at<QComboBox>(table_, row, kUnit);
    const auto* is = box_at<QComboBox>(table_, row, kIs);
    unit->clear();
    const auto* column = formats::find_our_column(is->currentData().toString().toStdString());
    if (column == nullptr)
        return;
    for (const auto& [name, one] : column->units) {
        unit->addItem(from(name), one);
        if (std::abs(one - std::abs(factor)) < 1e-12)
            unit->setCurrentIndex(unit->count() - 1);
    }
    box_at<QCheckBox>(table_, row, kTurned)->setChecked(factor < 0.0);
}

void ImportAssistant::fill_columns() {
    table_->setColumnCount(4);
    table_->setHorizontalHeaderLabels({tr("In the file"), tr("is"), tr("in"), tr("other way")});
    table_->setRowCount(static_cast<int>(subject_->names.size()));
    const auto* known =
        read_options_.mappings ? read_options_.mappings->find_for(subject_->bytes) : nullptr;
    const formats::ColumnMapping start =
        known != nullptr ? *known : formats::guess_mapping(subject_->names);
    if (start.rows_hz)
        rows_hz_->setValue(*start.rows_hz);
    name_->setText(known != nullptr ? from(known->name)
                                    : QFileInfo(subject_->path).completeBaseName());
    for (int row = 0; row < table_->rowCount(); ++row) {
        const std::string& name = subject_->names[static_cast<std::size_t>(row)];
        add_row(row, from(name));
        auto* is = box_at<QComboBox>(table_, row, kIs);
        for (const formats::OurColumn& column : formats::our_columns())
            is->addItem(from(column.words), from(column.key));
        auto* unit = new QComboBox(table_);
        unit->setAccessibleName(tr("Unit of %1").arg(from(name)));
        table_->setCellWidget(row, kUnit, unit);
        connect(unit, &QComboBox::activated, this, &ImportAssistant::changed);
        auto* turned = new QCheckBox(table_);
        turned->setAccessibleName(tr("%1 counts the other way").arg(from(name)));
        turned->setToolTip(tr("Positive here is negative there: for angles, open to the target is "
                              "positive"));
        table_->setCellWidget(row, kTurned, turned);
        connect(turned, &QCheckBox::clicked, this, &ImportAssistant::changed);
        for (const formats::ColumnUse& use : start.uses)
            if (use.theirs == name) {
                is->setCurrentIndex(std::max(0, is->findData(from(use.ours))));
                units_of(row, use.factor);
            }
    }
}

void ImportAssistant::fill_markers() {
    table_->setColumnCount(2);
    table_->setHorizontalHeaderLabels({tr("Marker"), tr("is")});
    table_->setRowCount(static_cast<int>(subject_->names.size()));
    const formats::NameTable names =
        read_options_.names ? *read_options_.names : formats::NameTable::shipped();
    for (int row = 0; row < table_->rowCount(); ++row) {
        const std::string& name = subject_->names[static_cast<std::size_t>(row)];
        add_row(row, from(name));
        auto* is = box_at<QComboBox>(table_, row, kIs);
        for (const std::string& marker : formats::NameTable::our_markers())
            is->addItem(from(marker), from(marker));
        if (const auto ours = names.find_marker(name))
            is->setCurrentIndex(std::max(0, is->findData(from(*ours))));
    }
}

void ImportAssistant::show_subject() {
    const bool markers = subject_->kind == ImportSubject::Kind::Markers;
    axes_box_->setVisible(markers);
    rows_box_->setVisible(false);
    name_->setVisible(!markers);
    if (subject_->kind == ImportSubject::Kind::Neither) {
        busy_ = false;
        QString why;
        for (const Finding& finding : subject_->findings)
            why += from(text_of(finding)) + QLatin1Char('\n');
        lead_->setText(tr("There are neither columns nor markers in it. %1").arg(why.trimmed()));
        return;
    }
    lead_->setText(markers ? tr("Say which marker is which. The speeds on the right show what "
                                "comes of it; names are remembered for the next file.")
                           : tr("Say what the columns are. The speeds on the right show what "
                                "comes of it; files with the same columns are then read alike."));
    markers ? fill_markers() : fill_columns();
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(kName, QHeaderView::Stretch);
    table_->setCurrentCell(0, kName);
    show_raw();
    try_now();
}

ImportAnswer ImportAssistant::answer() const {
    ImportAnswer out;
    out.axes.up = find_axis(up_->currentData().toString().toStdString());
    out.axes.target = find_axis(target_->currentData().toString().toStdString());
    if (target_deg_->value() > kAlongAxis_deg)
        out.axes.target_deg = target_deg_->value();
    // Without a name it would take the place of another without one.
    const QString name = name_->text().trimmed();
    out.mapping.name =
        (name.isEmpty() ? QFileInfo(subject_->path).completeBaseName() : name).toStdString();
    const formats::NameTable names =
        read_options_.names ? *read_options_.names : formats::NameTable::shipped();
    bool has_time = false;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const std::string theirs = subject_->names[static_cast<std::size_t>(row)];
        const std::string ours =
            box_at<QComboBox>(table_, row, kIs)->currentData().toString().toStdString();
        if (subject_->kind == ImportSubject::Kind::Markers) {
            if (names.find_marker(theirs).value_or("") != ours)
                out.markers[theirs] = ours;
            continue;
        }
        if (ours.empty())
            continue;
        has_time = has_time || ours == "time_s";
        const double unit = box_at<QComboBox>(table_, row, kUnit)->currentData().toDouble();
        const double sign = box_at<QCheckBox>(table_, row, kTurned)->isChecked() ? -1.0 : 1.0;
        out.mapping.uses.push_back({theirs, ours, sign * unit});
    }
    if (!has_time)
        out.mapping.rows_hz = rows_hz_->value();
    return out;
}

void ImportAssistant::changed() {
    busy_ = true;
    soon_.start();
    show_raw();
}

void ImportAssistant::try_now() {
    if (!subject_)
        return;
    if (trying_.isRunning()) { // one at a time; the newest answer last
        soon_.start();
        return;
    }
    const ImportAnswer now = answer();
    rows_box_->setVisible(subject_->kind == ImportSubject::Kind::Columns && now.mapping.rows_hz);
    trying_.setFuture(
        QtConcurrent::run(&workers(), try_import, subject_, now, read_options_, options_));
}

void ImportAssistant::show_raw() {
    const int row = table_->currentRow();
    if (!subject_ || row < 0)
        return;
    const auto i = static_cast<std::size_t>(row);
    while (!raw_->plottables().empty())
        plot_->removePlottable(raw_->plottables().first());
    const auto add = [&](const std::vector<double>& values, Qt::PenStyle style) {
        QVector<double> keys;
        QVector<double> shown;
        for (std::size_t k = 0; k < values.size(); ++k) {
            keys << static_cast<double>(k);
            shown << values[k];
        }
        QCPGraph* graph =
            plot_->addGraph(raw_->axis(QCPAxis::atBottom), raw_->axis(QCPAxis::atLeft));
        graph->setData(keys, shown, true);
        graph->setPen(QPen(colours().ink, 1.3, style));
    };
    if (subject_->kind == ImportSubject::Kind::Columns) {
        add(subject_->columns[i], Qt::SolidLine);
    } else {
        const std::array styles{Qt::SolidLine, Qt::DashLine, Qt::DotLine};
        for (Eigen::Index axis = 0; axis < 3; ++axis) {
            std::vector<double> values;
            for (const Eigen::Vector3d& point : subject_->tracks_m[i])
                values.push_back(point(axis));
            add(values, styles[static_cast<std::size_t>(axis)]);
        }
    }
    raw_->axis(QCPAxis::atBottom)
        ->setLabel(subject_->kind == ImportSubject::Kind::Columns
                       ? tr("%1, by row").arg(from(subject_->names[i]))
                       : tr("%1 in m, by frame: x line, y dashed, z dotted")
                             .arg(from(subject_->names[i])));
    for (QCPAxis* axis : {raw_->axis(QCPAxis::atBottom), raw_->axis(QCPAxis::atLeft)})
        axis->rescale();
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void ImportAssistant::show_result() {
    while (!rates_->plottables().empty())
        plot_->removePlottable(rates_->plottables().first());
    if (!result_)
        return;
    take_->setEnabled(result_->ok);
    const auto& axes = result_->take->file_axes;
    up_->setItemText(0, axes ? tr("as found: %1").arg(axis_text(axes->up)) : tr("as found"));
    target_->setItemText(0, axes ? tr("as found: %1").arg(target_text(*axes)) : tr("as found"));
    QString text;
    if (result_->ok) {
        const Analysis& analysis = result_->analysis;
        const double impact_s = analysis.moments.reference_s();
        for (Segment segment : kSequence) {
            const Curve& rate = analysis.rate_deg_s[index_of(segment)];
            QVector<double> keys;
            QVector<double> values;
            for (std::size_t i = 0; i < rate.size(); ++i) {
                keys << 1000.0 * (rate.time_of(i) - impact_s);
                values << rate.values()[i];
            }
            QCPGraph* graph =
                plot_->addGraph(rates_->axis(QCPAxis::atBottom), rates_->axis(QCPAxis::atLeft));
            graph->setData(keys, values, true);
            graph->setPen(QPen(colours().of(segment), 1.6));
        }
        rates_->axis(QCPAxis::atBottom)->setLabel(tr("ms from impact"));
        rates_->axis(QCPAxis::atLeft)->setLabel(tr("°/s"));
        for (QCPAxis* axis : {rates_->axis(QCPAxis::atBottom), rates_->axis(QCPAxis::atLeft)})
            axis->rescale();
        QStringList peaks;
        for (Segment segment : analysis.sequence.order)
            peaks << QStringLiteral("<span style=\"color:%1\"><b>%2</b></span> %3")
                         .arg(colours().of(segment).name(), segment_name(segment),
                              tr("%1 °/s").arg(
                                  number_text(analysis.sequence.find(segment)->peak_deg_s)));
        text = tr("A swing comes of it: %1 frames a second; peaks in this order: %2.")
                   .arg(number_text(analysis.rate_hz), peaks.join(QStringLiteral(", ")));
    } else {
        for (const Finding& finding : result_->findings)
            if (finding.severity == Finding::Severity::Error)
                text +=
                    (text.isEmpty() ? QString() : QStringLiteral("\n")) + from(text_of(finding));
    }
    result_text_->setText(text);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

} // namespace kite::app
