// The game that trains the eye, played as an instructor would.

#include "app/rooms/eye/eye_room.h"
#include "app/window_test.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QPushButton>
#include <QSignalSpy>
#include <QTableWidget>

using namespace kite;
using namespace kite::app;

namespace {

class EyeTasks : public WindowTest {
protected:
    void SetUp() override {
        QFile::remove(file());
        WindowTest::SetUp();
        room()->set_seed(5);
    }
    static QString file() {
        return QFileInfo(QSettings().fileName()).dir().filePath(QStringLiteral("eye.json"));
    }
    EyeRoom* room() const { return window->room<EyeRoom>(); }
    template <class Kind>
    Kind* child(const char* name) const {
        return window->findChild<Kind*>(QString::fromLatin1(name));
    }
    void ask() {
        QSignalSpy asked(room(), &EyeRoom::asked);
        QTest::mouseClick(child<QPushButton>("eye_go"), Qt::LeftButton);
        ASSERT_TRUE(!asked.isEmpty() || asked.wait(20000));
        ASSERT_TRUE(room()->is_asking());
    }
    /// Answers what is asked, an angle by so many degrees off.
    void answer(double off_deg) {
        if (room()->question().angle) {
            auto* degrees = child<QDoubleSpinBox>("eye_degrees");
            ASSERT_TRUE(degrees->isVisible());
            degrees->selectAll();
            QTest::keyClicks(degrees,
                             QString::number(qRound(room()->question().truth_deg + off_deg)));
        } else {
            auto* order = child<QComboBox>("eye_order");
            ASSERT_TRUE(order->isVisible());
            order->setCurrentIndex(
                order->findData(QString::fromStdString(room()->question().truth_order)));
        }
        QTest::keyClick(window.get(), Qt::Key_Return);
    }
};

} // namespace

TEST_F(EyeTasks, EstimatesAreScoredAgainstTheTruthAndKept) {
    window->enter(QStringLiteral("eye"));
    room()->set_day(Date(2026, 11, 25));
    int angles = 0;
    for (int i = 0; i < 7; ++i) {
        ask();
        angles += room()->question().angle ? 1 : 0;
        answer(6.0);
        ASSERT_EQ(room()->guesses().size(), static_cast<std::size_t>(i + 1));
    }
    ASSERT_GT(angles, 2);
    ASSERT_LT(angles, 7); // an order came as well
    for (const EyeGuess& guess : room()->guesses()) {
        if (guess.angle) {
            EXPECT_NEAR(guess.off_deg(), 6.0, 0.51);
        } else {
            EXPECT_EQ(guess.said_order, guess.truth_order);
        }
    }
    EXPECT_TRUE(child<QLabel>("eye_orders")
                    ->text()
                    .contains(QStringLiteral("%1 of %1 right").arg(7 - angles)));
    EXPECT_GT(child<QTableWidget>("eye_scores")->rowCount(), 0);
    // The Monday of that week (a calendar).
    const auto* weeks = child<QTableWidget>("eye_weeks");
    ASSERT_GT(weeks->rowCount(), 0);
    EXPECT_EQ(weeks->item(0, 0)->text(),
              QLocale().toString(QDate(2026, 11, 23), QLocale::ShortFormat));

    // The next time it goes on from there.
    const std::vector<EyeGuess> before = room()->guesses();
    open_window();
    window->enter(QStringLiteral("eye"));
    EXPECT_EQ(room()->guesses(), before);
}

TEST_F(EyeTasks, ADamagedHistoryIsNotWrittenOver) {
    QFile damaged(file());
    ASSERT_TRUE(damaged.open(QIODevice::WriteOnly));
    damaged.write("{\"kite-hinge\": \"eye 1\", \"guesses\": [{\"day\": \"someday\"}]}");
    damaged.close();
    open_window();
    window->enter(QStringLiteral("eye"));
    ask();
    answer(0.0);
    EXPECT_EQ(room()->guesses().size(), 1U);
    ASSERT_TRUE(damaged.open(QIODevice::ReadOnly));
    EXPECT_TRUE(damaged.readAll().contains("someday"));
}
