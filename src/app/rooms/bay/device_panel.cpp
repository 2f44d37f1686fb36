#include "app/rooms/bay/device_panel.h"

#include "app/theme/text.h"
#include "app/widgets/wrapped.h"

#include <QStyle>
#include <QVBoxLayout>

#include <cmath>
#include <set>

namespace kite::app {

namespace {

constexpr int kRoleUnknown = 99; ///< those stand last
/// Worth saying: the link loses more, the battery holds less.
constexpr double kMuchLost_pct = 3.0;
constexpr double kLowBattery = 0.15;

QString role_name(const live::DeviceFacts& facts) {
    return facts.role ? said(std::string(name_of(*facts.role))) : DevicePanel::tr("not said yet");
}

QString words_of(const live::DeviceFacts& facts, double now_s) {
    if (now_s - facts.heard_at_s > kSilent_s)
        return DevicePanel::tr("Not heard for %1 s. Is it awake, in reach, charged?")
            .arg(number_text(now_s - facts.heard_at_s));
    QStringList words;
    if (facts.rate_hz > 0.0) {
        words << DevicePanel::tr("%1 a second").arg(number_text(facts.rate_hz));
        words << DevicePanel::tr("%1 % lost").arg(number_text(facts.lost_pct, 1));
    }
    if (facts.role && facts.role != live::Role::Launch)
        words
            << (facts.has_clock
                    ? DevicePanel::tr("time to ± %1 ms").arg(number_text(2.0 * facts.clock_u_ms, 1))
                    : DevicePanel::tr("no clock: by arrival, ± %1 ms")
                          .arg(number_text(2.0 * facts.clock_u_ms, 1)));
    if (std::isfinite(facts.battery))
        words << DevicePanel::tr("battery %1 %").arg(number_text(100.0 * facts.battery));
    return words.join(QStringLiteral(", "));
}

bool is_poor(const live::DeviceFacts& facts, double now_s) {
    return now_s - facts.heard_at_s > kSilent_s || facts.lost_pct > kMuchLost_pct ||
           facts.battery < kLowBattery;
}

} // namespace

DevicePanel::DevicePanel(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("bay_devices"));
    const Theme& theme = Theme::instance();
    lines_ = new QVBoxLayout(this);
    lines_->setContentsMargins(0, 0, 0, 0);
    lines_->setSpacing(theme.scaled(2));
    missing_ = new WrappedText({}, theme.font(13), this);
    problems_ = new WrappedText({}, theme.font(13), this);
    for (WrappedText* text : {missing_, problems_}) {
        text->setProperty("tone", "soft");
        text->hide();
        lines_->addWidget(text);
    }
}

void DevicePanel::set_state(const BayState& state) {
    const Theme& theme = Theme::instance();
    std::set<LineKey> here;
    std::set<live::Role> roles;
    for (const live::DeviceFacts& facts : state.devices) {
        const LineKey key{facts.role ? static_cast<int>(*facts.role) : kRoleUnknown, facts.name};
        here.insert(key);
        if (facts.role && state.now_s - facts.heard_at_s <= kSilent_s)
            roles.insert(*facts.role);
        Line& line = lines_by_role_[key];
        if (line.name == nullptr) {
            // Names come from the network: plain text, whatever they look like.
            line.name = make_label({}, theme.font(14, Theme::Weight::Semibold), "", this);
            line.name->setTextFormat(Qt::PlainText);
            line.words = new WrappedText({}, theme.font(13), this);
            line.words->setTextFormat(Qt::PlainText);
            const int at = 2 * static_cast<int>(
                                   std::distance(lines_by_role_.begin(), lines_by_role_.find(key)));
            lines_->insertWidget(at, line.name);
            lines_->insertWidget(at + 1, line.words);
        }
        line.name->setText(
            tr("%1  (%2)").arg(role_name(facts), QString::fromStdString(facts.name)));
        const QString words = words_of(facts, state.now_s);
        if (words != line.words->text())
            line.words->setText(words);
        const QString tone =
            is_poor(facts, state.now_s) ? QStringLiteral("accent") : QStringLiteral("soft");
        if (line.words->property("tone").toString() != tone) {
            line.words->setProperty("tone", tone);
            style()->unpolish(line.words);
            style()->polish(line.words);
        }
    }
    for (auto line = lines_by_role_.begin(); line != lines_by_role_.end();) {
        if (here.count(line->first) > 0) {
            ++line;
            continue;
        }
        delete line->second.name;
        delete line->second.words;
        line = lines_by_role_.erase(line);
    }
    QStringList missing;
    if (!roles.empty())
        for (live::Role role :
             {live::Role::Pelvis, live::Role::Torso, live::Role::LeadArm, live::Role::Club})
            if (roles.count(role) == 0)
                missing << said(std::string(name_of(role)));
    missing_->setVisible(!missing.isEmpty() || state.devices.empty());
    missing_->setText(state.devices.empty() ? tr("Nobody yet.")
                                            : tr("Not heard: %1. What hangs on it cannot be told.")
                                                  .arg(missing.join(QStringLiteral(", "))));
    problems_->setVisible(state.not_understood > 0);
    problems_->setTextFormat(Qt::PlainText);
    problems_->setText(tr("%1 messages were not understood, the last: %2")
                           .arg(state.not_understood)
                           .arg(state.last_problem));
}

QString DevicePanel::text() const {
    QStringList out;
    for (const auto& [key, line] : lines_by_role_)
        out << line.name->text() + QStringLiteral(": ") + line.words->text();
    return out.join(QLatin1Char('\n'));
}

} // namespace kite::app
