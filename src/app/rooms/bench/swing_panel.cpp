#include "app/rooms/bench/swing_panel.h"

#include "app/rooms/bench/swing_delegate.h"
#include "app/session/swing_list_model.h"
#include "app/theme/icons.h"
#include "app/theme/theme.h"

#include <QActionGroup>
#include <QDir>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include <utility>

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

/// A line of text with one button, in the panel's foot.
std::pair<QWidget*, QLabel*> make_line(QWidget* parent, const QString& button_text,
                                       const char* button_name, QPushButton*& button) {
    auto* box = new QWidget(parent);
    auto* layout = new QHBoxLayout(box);
    const int side = Theme::instance().scaled(16);
    layout->setContentsMargins(side, Theme::instance().scaled(6), side, 0);
    auto* label = new QLabel(box);
    label->setWordWrap(true);
    button = new QPushButton(button_text, box);
    button->setObjectName(QString::fromLatin1(button_name));
    layout->addWidget(label, 1);
    layout->addWidget(button);
    box->hide();
    return {box, label};
}

} // namespace

SwingPanel::SwingPanel(SwingListModel* model, QWidget* parent)
    : QFrame(parent), model_(model), filter_(new SwingFilter(model, this)) {
    setObjectName(QStringLiteral("side"));
    const Theme& theme = Theme::instance();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, theme.scaled(12), 1, theme.scaled(12));
    layout->setSpacing(0);
    const int side = theme.scaled(16);

    layout->addLayout(make_head(side));

    list_ = new QListView(this);
    list_->setObjectName(QStringLiteral("swings"));
    list_->setAccessibleName(tr("Swings"));
    list_->setModel(filter_);
    list_->setItemDelegate(new SwingDelegate(list_));
    list_->setUniformItemSizes(true);
    list_->setMouseTracking(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setContextMenuPolicy(Qt::ActionsContextMenu);
    layout->addWidget(list_, 1);

    note_ = new QLineEdit(this);
    note_->setObjectName(QStringLiteral("swing_note"));
    note_->setAccessibleName(tr("Note on this swing"));
    note_->setPlaceholderText(tr("Note on this swing; Enter keeps it"));
    note_->installEventFilter(this);
    note_->hide();
    layout->addWidget(note_);

    QPushButton* cancel = nullptr;
    std::tie(progress_box_, progress_) = make_line(this, tr("Cancel"), "cancel_reading", cancel);
    layout->addWidget(progress_box_);
    QPushButton* stop = nullptr;
    std::tie(watch_box_, watch_) = make_line(this, tr("Stop"), "stop_watching", stop);
    layout->addWidget(watch_box_);

    layout->addLayout(make_foot(side));

    connect(cancel, &QPushButton::clicked, this, &SwingPanel::cancel_requested);
    connect(stop, &QPushButton::clicked, this, &SwingPanel::watch_end_requested);
    connect_parts();
    show_count();
    connect(&Theme::instance(), &Theme::changed, this, &SwingPanel::restyle);
    restyle();
    set_lesson_name({});
}

QLayout* SwingPanel::make_head(int side) {
    const Theme& theme = Theme::instance();
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
    head->addSpacing(theme.scaled(6));
    auto* search = new QHBoxLayout;
    search->setSpacing(theme.scaled(6));
    words_ = new QLineEdit(this);
    words_->setObjectName(QStringLiteral("swing_words"));
    words_->setPlaceholderText(tr("Name, club, good …"));
    words_->setAccessibleName(tr("Show only swings with these words"));
    words_->setToolTip(tr("Show only swings with these words: golfer, club, hand, note, file, "
                          "good, left out (Ctrl+F; Esc takes them away)"));
    words_->setClearButtonEnabled(true);
    words_->installEventFilter(this);
    sort_ = make_sort_button();
    search->addWidget(words_, 1);
    search->addWidget(sort_);
    head->addLayout(search);
    return head;
}

QLayout* SwingPanel::make_foot(int side) {
    const Theme& theme = Theme::instance();
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
    return foot;
}

void SwingPanel::connect_parts() {
    connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this, [this] {
        keep_note(); // a capture that arrives must not cost what was typed
        emit selected_changed(selected());
    });
    connect(words_, &QLineEdit::textChanged, this, [this](const QString& text) {
        filter_->set_words(text);
        show_count();
    });
    connect(note_, &QLineEdit::returnPressed, this, [this] {
        keep_note();
        list_->setFocus();
    });
    connect(open_, &QPushButton::clicked, this, &SwingPanel::open_requested);
    connect(theme_, &QToolButton::clicked, &Theme::instance(), &Theme::switch_kind);
    connect(model_, &SwingListModel::progress_changed, this, &SwingPanel::show_progress);
    connect(model_, &SwingListModel::all_loaded, this, [this] { progress_box_->hide(); });
    connect(model_, &QAbstractItemModel::rowsInserted, this, &SwingPanel::show_count);
    connect(model_, &QAbstractItemModel::rowsRemoved, this, &SwingPanel::show_count);
}

QToolButton* SwingPanel::make_sort_button() {
    auto* button = new QToolButton(this);
    button->setObjectName(QStringLiteral("sort"));
    button->setPopupMode(QToolButton::InstantPopup);
    button->setAccessibleName(tr("Order of the list"));
    auto* menu = new QMenu(button);
    auto* group = new QActionGroup(menu);
    for (int i = 0; i < SwingFilter::kSorts; ++i) {
        const auto sort = static_cast<SwingFilter::Sort>(i);
        QAction* action = menu->addAction(SwingFilter::name_of(sort));
        action->setCheckable(true);
        action->setChecked(i == 0);
        group->addAction(action);
        connect(action, &QAction::triggered, this, [this, sort] { filter_->set_sort(sort); });
    }
    button->setMenu(menu);
    button->setToolTip(tr("Order of the list"));
    return button;
}

void SwingPanel::restyle() {
    const Theme& theme = Theme::instance();
    setMinimumWidth(theme.scaled(186));
    setMaximumWidth(theme.scaled(252));
    lesson_->setFont(theme.font(15, Theme::Weight::Semibold));
    for (QLabel* label : {count_, progress_, watch_})
        label->setFont(theme.font(12));
    for (QLineEdit* line : {words_, note_})
        line->setFont(theme.font(13));
    open_->setIcon(icon(Icon::Open, colours().ink));
    sort_->setIcon(icon(Icon::Sort, colours().ink));
    theme_->setIcon(icon(Icon::Theme, colours().ink));
    for (QToolButton* button : {sort_, theme_})
        button->setIconSize(QSize(theme.scaled(20), theme.scaled(20)));
    list_->doItemsLayout(); // the rows are as high as the text asks for
    update();
}

void SwingPanel::show_count() {
    const int all = model_->rowCount();
    const int shown = filter_->rowCount();
    count_->setText(all == 0      ? tr("No swings yet")
                    : shown < all ? tr("%1 of %2 swings").arg(shown).arg(all)
                    : all == 1    ? tr("1 swing")
                                  : tr("%1 swings").arg(all));
}

void SwingPanel::show_progress(int done, int wanted) {
    // What is done in a moment needs no progress.
    constexpr int kWorthShowing = 12;
    if (wanted < kWorthShowing)
        return;
    progress_->setText(tr("%1 of %2 read").arg(done).arg(wanted));
    progress_box_->setVisible(done < wanted);
}

void SwingPanel::show_watched(const QString& folder) {
    watch_->setText(tr("Watching %1: new captures appear here").arg(QDir(folder).dirName()));
    watch_->setToolTip(folder);
    watch_box_->setVisible(!folder.isEmpty());
}

void SwingPanel::set_lesson_name(const QString& name) {
    lesson_->setText(name.isEmpty() ? tr("Today's swings") : name);
}

void SwingPanel::set_row_actions(const QList<QAction*>& actions) {
    list_->addActions(actions);
}

void SwingPanel::select(int row) {
    if (row < 0 || row >= model_->rowCount())
        return;
    if (!filter_->mapFromSource(model_->index(row)).isValid())
        words_->clear();
    const QModelIndex index = filter_->mapFromSource(model_->index(row));
    list_->setCurrentIndex(index);
    list_->scrollTo(index);
}

int SwingPanel::selected() const {
    const QModelIndex index = filter_->mapToSource(list_->currentIndex());
    return index.isValid() ? index.row() : -1;
}

int SwingPanel::neighbour(int direction) const {
    const QModelIndex next = filter_->index(list_->currentIndex().row() + direction, 0);
    return next.isValid() ? filter_->mapToSource(next).row() : -1;
}

void SwingPanel::focus_words() {
    words_->setFocus();
    words_->selectAll();
}

void SwingPanel::keep_note() {
    if (!note_->isVisibleTo(this))
        return;
    note_->hide();
    const int row = model_->row_of(noted_id_);
    if (row >= 0)
        emit note_entered(row, note_->text().trimmed());
}

void SwingPanel::edit_note() {
    const int row = selected();
    noted_id_ = model_->id_of(row);
    if (noted_id_ < 0)
        return;
    note_->setText(model_->index(row).data(SwingListModel::NoteRole).toString());
    note_->show();
    note_->setFocus();
    note_->selectAll();
}

bool SwingPanel::eventFilter(QObject* watched, QEvent* event) {
    const bool key = event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride;
    if (key && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        // Here Esc ends the typing; it is not the window's command.
        if (event->type() == QEvent::ShortcutOverride) {
            event->accept();
            return true;
        }
        if (watched == words_)
            words_->clear();
        else
            note_->hide();
        list_->setFocus();
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

} // namespace kite::app
