#include "app/views/swing_panel.h"

#include "app/session/swing_list_model.h"
#include "app/theme/icons.h"
#include "app/theme/theme.h"
#include "app/views/swing_delegate.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListView>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace kite::app {

namespace {

/// The program's mark and name.
class NamePlate : public QWidget {
public:
    explicit NamePlate(QWidget* parent) : QWidget(parent) {
        setFixedHeight(Theme::instance().scaled(40));
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        const Theme& theme = Theme::instance();
        const double size = theme.scaled(24);
        draw_mark(painter, QRectF(0, (height() - size) / 2.0, size, size), colours().ink,
                  colours().accent);
        painter.setFont(theme.font(18, Theme::Weight::Bold));
        painter.setPen(colours().ink);
        painter.drawText(rect().adjusted(theme.scaled(34), 0, 0, 0),
                         Qt::AlignLeft | Qt::AlignVCenter, QStringLiteral("Kite Hinge"));
    }
};

} // namespace

SwingPanel::SwingPanel(SwingListModel* model, QWidget* parent) : QFrame(parent) {
    setObjectName(QStringLiteral("side"));
    const Theme& theme = Theme::instance();
    setMinimumWidth(theme.scaled(204));
    setMaximumWidth(theme.scaled(252));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, theme.scaled(12), 1, theme.scaled(12));
    layout->setSpacing(0);
    const int side = theme.scaled(16);

    auto* head = new QVBoxLayout;
    head->setContentsMargins(side, 0, side, theme.scaled(8));
    head->setSpacing(theme.scaled(1));
    head->addWidget(new NamePlate(this));
    lesson_ = new QLabel(this);
    lesson_->setWordWrap(true);
    count_ = new QLabel(this);
    count_->setObjectName(QStringLiteral("soft"));
    head->addSpacing(theme.scaled(8));
    head->addWidget(lesson_);
    head->addWidget(count_);
    layout->addLayout(head);

    list_ = new QListView(this);
    list_->setObjectName(QStringLiteral("swings"));
    list_->setAccessibleName(tr("Swings"));
    list_->setModel(model);
    list_->setItemDelegate(new SwingDelegate(list_));
    list_->setUniformItemSizes(true);
    list_->setMouseTracking(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    layout->addWidget(list_, 1);

    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(side, theme.scaled(10), side, 0);
    open_ = new QPushButton(tr("Open…"), this);
    open_->setObjectName(QStringLiteral("open"));
    open_->setToolTip(tr("Open swing files or a lesson (Ctrl+O)"));
    theme_ = new QToolButton(this);
    theme_->setObjectName(QStringLiteral("theme"));
    theme_->setAccessibleName(tr("Light or dark"));
    theme_->setToolTip(tr("Light or dark (Ctrl+T)"));
    foot->setSpacing(theme.scaled(8));
    foot->addWidget(open_, 1);
    foot->addWidget(theme_);
    layout->addLayout(foot);

    connect(
        list_->selectionModel(), &QItemSelectionModel::currentChanged, this,
        [this](const QModelIndex& now) { emit selected_changed(now.isValid() ? now.row() : -1); });
    connect(open_, &QPushButton::clicked, this, &SwingPanel::open_requested);
    connect(theme_, &QToolButton::clicked, this, &SwingPanel::theme_requested);
    const auto count = [this, model] {
        count_->setText(model->rowCount() == 0
                            ? tr("No swings yet")
                            : (model->rowCount() == 1 ? tr("1 swing")
                                                      : tr("%1 swings").arg(model->rowCount())));
    };
    connect(model, &QAbstractItemModel::rowsInserted, this, count);
    connect(model, &QAbstractItemModel::rowsRemoved, this, count);
    count();
    connect(&Theme::instance(), &Theme::changed, this, &SwingPanel::restyle);
    restyle();
    set_lesson_name({});
}

void SwingPanel::restyle() {
    const Theme& theme = Theme::instance();
    lesson_->setFont(theme.font(15, Theme::Weight::Semibold));
    count_->setFont(theme.font(12));
    open_->setIcon(icon(Icon::Open, colours().ink));
    theme_->setIcon(icon(Icon::Theme, colours().ink));
    theme_->setIconSize(QSize(theme.scaled(20), theme.scaled(20)));
    update();
}

void SwingPanel::set_lesson_name(const QString& name) {
    lesson_->setText(name.isEmpty() ? tr("Today's swings") : name);
}

void SwingPanel::select(int row) {
    const QModelIndex index = list_->model()->index(row, 0);
    if (!index.isValid())
        return;
    list_->setCurrentIndex(index);
    list_->scrollTo(index);
}

int SwingPanel::selected() const {
    return list_->currentIndex().isValid() ? list_->currentIndex().row() : -1;
}

} // namespace kite::app
