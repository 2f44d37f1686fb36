// What is open and what is looked at, without a window: the list as it is looked at, the golfer's
// best, the clock of the view.

#include "app/session/reference.h"
#include "app/session/shown_swing.h"
#include "app/session/swing_filter.h"
#include "app/session/swing_loader.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <QAbstractItemModelTester>
#include <QSignalSpy>
#include <QTest>
#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using namespace kite::app;

namespace {

class Session : public testing::Test {
protected:
    /// A swing of a golfer with a club, as a file of its own.
    SwingRequest swing(const char* golfer, ClubKind club, std::uint32_t seed,
                       Handedness handed = Handedness::Right) {
        simulate::SwingParameters parameters;
        parameters.club = club;
        parameters.handed = handed;
        parameters.seed = seed;
        parameters.noise_mm = 0.3;
        const auto path = folder.write(std::to_string(seed) + ".csv",
                                       formats::write_pose_csv(simulate::make_take(parameters)));
        return {QString::fromStdString(path.string()), QString::fromLatin1(golfer), {}, {}};
    }
    void open(const std::vector<SwingRequest>& requests) {
        model.open(requests);
        ASSERT_TRUE(QTest::qWaitFor([&] { return !model.is_loading(); }, 20000));
    }
    void mark(int row, bool good, bool excluded) {
        model.set_marks(model.id_of(row), {good, excluded, {}});
    }

    test::TemporaryFolder folder;
    SwingListModel model;
};

} // namespace

TEST_F(Session, ASetIsOneGolferWithOneClubFromOneSide) {
    open({swing("Ada", ClubKind::Iron, 1), swing("Ada", ClubKind::Driver, 2),
          swing("Bo", ClubKind::Iron, 3), swing("Ada", ClubKind::Iron, 4),
          swing("Ada", ClubKind::Iron, 5, Handedness::Left), swing("Ada", ClubKind::Iron, 6)});
    EXPECT_EQ(ReferenceKeeper::rows_like(model, 0, false), (std::vector<int>{0, 3, 5}));
    mark(3, true, false);
    mark(5, true, true);
    EXPECT_EQ(ReferenceKeeper::rows_like(model, 0, true), (std::vector<int>{3}));
    EXPECT_EQ(ReferenceKeeper::rows_like(model, 0, false), (std::vector<int>{0, 3}));
    EXPECT_EQ(ReferenceKeeper::best_like(model, 0), 3);
    EXPECT_EQ(ReferenceKeeper::best_like(model, 2), -1) << "Bo has no other swing";
    EXPECT_TRUE(ReferenceKeeper::rows_like(model, -1, false).empty());
}

TEST_F(Session, TheKeeperFollowsTheSwingShownAndSaysNothingWithoutAWish) {
    open({swing("Ada", ClubKind::Iron, 1), swing("Ada", ClubKind::Iron, 2),
          swing("Bo", ClubKind::Iron, 3)});
    ReferenceKeeper keeper(&model);
    std::shared_ptr<const Reference> shown;
    int answers = 0;
    QObject::connect(&keeper, &ReferenceKeeper::changed,
                     [&](const std::shared_ptr<const Reference>& reference) {
                         shown = reference;
                         ++answers;
                     });
    keeper.set_row(0);
    QTest::qWait(150);
    EXPECT_EQ(answers, 0);
    keeper.set_kind(ReferenceKind::AllSwings);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !keeper.is_busy(); }, 10000));
    ASSERT_NE(shown, nullptr);
    EXPECT_EQ(shown->name, QStringLiteral("Ada, all swings (2)"));
    EXPECT_FALSE(shown->empty());
    EXPECT_GT(shown->rates_deg_s[0].t_s.size(), 100u);
    keeper.set_row(2);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !keeper.is_busy(); }, 10000));
    EXPECT_TRUE(shown->empty()) << "one swing is no set";
    model.remove(0);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !keeper.is_busy(); }, 10000));
    EXPECT_EQ(shown->name, QStringLiteral("Bo, all swings (1)"));
}

TEST_F(Session, ManyChangesAtOnceAreOneAnswer) {
    open({swing("Ada", ClubKind::Iron, 1), swing("Ada", ClubKind::Iron, 2)});
    ReferenceKeeper keeper(&model);
    int answers = 0;
    QObject::connect(&keeper, &ReferenceKeeper::changed, [&] { ++answers; });
    keeper.set_row(0);
    keeper.set_kind(ReferenceKind::GoodSwings);
    for (int i = 0; i < 20; ++i)
        mark(i % 2, i % 3 == 0, false);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !keeper.is_busy(); }, 10000));
    EXPECT_EQ(answers, 1);
}

TEST_F(Session, WordsAreSoughtInAllThatIsSaidOfASwing) {
    open({swing("Ada Lind", ClubKind::Iron, 1), swing("Bo", ClubKind::Wedge, 2),
          swing("Cy", ClubKind::Iron, 3, Handedness::Left)});
    SwingFilter filter(&model);
    const auto found = [&](const char* words) {
        filter.set_words(QString::fromUtf8(words));
        std::vector<int> rows;
        for (int i = 0; i < filter.rowCount(); ++i)
            rows.push_back(filter.mapToSource(filter.index(i, 0)).row());
        return rows;
    };
    EXPECT_EQ(found("lind"), (std::vector<int>{0}));
    EXPECT_EQ(found("IRON"), (std::vector<int>{0, 2}));
    EXPECT_EQ(found("iron left"), (std::vector<int>{2})) << "every word must be found";
    EXPECT_EQ(found("2.csv"), (std::vector<int>{1}));
    EXPECT_EQ(found("good"), (std::vector<int>{}));
    model.set_marks(model.id_of(1), {true, false, QStringLiteral("towel drill")});
    EXPECT_EQ(found("good"), (std::vector<int>{1}));
    EXPECT_EQ(found("towel wedge"), (std::vector<int>{1}));
    EXPECT_EQ(found("   "), (std::vector<int>{0, 1, 2}));
}

TEST_F(Session, ASwingThatCannotBeReadIsSortedLastAndFoundByThat) {
    const auto broken = folder.write("broken.csv", "nonsense");
    open({{QString::fromStdString(broken.string()), {}, {}, {}}, swing("Ada", ClubKind::Iron, 1)});
    SwingFilter filter(&model);
    for (const auto sort : {SwingFilter::Sort::InOrder, SwingFilter::Sort::ClubHeadSpeed}) {
        filter.set_sort(sort);
        EXPECT_EQ(filter.mapToSource(filter.index(0, 0)).row(), 1);
    }
    filter.set_words(QStringLiteral("unreadable"));
    EXPECT_EQ(filter.rowCount(), 1);
    EXPECT_FALSE(SwingFilter::name_of(filter.sort_by()).isEmpty());
}

TEST_F(Session, ProgressCountsWhatWasAskedForSinceTheLastRest) {
    QSignalSpy progress(&model, &SwingListModel::progress_changed);
    open({swing("Ada", ClubKind::Iron, 1), swing("Ada", ClubKind::Iron, 2),
          swing("Ada", ClubKind::Iron, 3)});
    EXPECT_EQ(progress.last(), (QList<QVariant>{3, 3}));
    open({swing("Ada", ClubKind::Iron, 4)});
    EXPECT_EQ(progress.last(), (QList<QVariant>{1, 1})) << "counted anew";
}

TEST_F(Session, TheViewNeverLeavesTheTakeAndTheCursorNeverTheView) {
    open({swing("Ada", ClubKind::Iron, 1)});
    ShownSwing state;
    state.set_cursor_s(1.0);
    EXPECT_FALSE(state.has_swing()) << "nothing to look at, and nothing breaks";
    state.set_swing(model.swing(0));
    const double whole = model.swing(0)->analysis.duration_s;
    state.set_range({-5.0, 50.0});
    EXPECT_DOUBLE_EQ(state.range().begin_s, 0.0);
    EXPECT_DOUBLE_EQ(state.range().end_s, whole);
    EXPECT_TRUE(state.is_whole());
    state.zoom_at(0.5 * whole, 1e-9);
    EXPECT_NEAR(state.range().duration_s(), 0.02, 1e-12) << "20 ms is the shortest";
    EXPECT_NEAR(0.5 * (state.range().begin_s + state.range().end_s), 0.5 * whole, 1e-9)
        << "what lies under the pointer stays there";
    state.set_cursor_s(whole);
    EXPECT_TRUE(state.range().contains(state.cursor_s()));
    state.set_cursor_s(1e9);
    EXPECT_DOUBLE_EQ(state.cursor_s(), whole);
    state.set_cursor_s(std::nan(""));
    EXPECT_DOUBLE_EQ(state.cursor_s(), whole);
    state.set_swing(nullptr);
    EXPECT_FALSE(state.has_swing());
    state.step_frames(1);
    state.step_moment(1);
}

TEST_F(Session, FoldersListsAndFilesAreTakenAsTheyAre) {
    const auto first = swing("", ClubKind::Iron, 1);
    swing("", ClubKind::Iron, 2);
    folder.write("notes.md", "not a swing");
    const QString here = QString::fromStdString(folder.path("").string());
    const auto of_folder = expand_paths({here});
    ASSERT_EQ(of_folder.size(), 2u);
    EXPECT_TRUE(of_folder[0].path.endsWith(QStringLiteral("1.csv")));
    std::filesystem::create_directories(folder.path("empty"));
    const auto of_empty = expand_paths({here + QStringLiteral("empty")});
    ASSERT_EQ(of_empty.size(), 1u) << "an empty folder is said, not passed over";
    const auto broken = folder.write("lesson.json", "{");
    const auto of_list = expand_paths({QString::fromStdString(broken.string())});
    ASSERT_EQ(of_list.size(), 1u);
    open(of_list);
    EXPECT_EQ(model.state(0), SwingListModel::State::Failed);
    EXPECT_FALSE(model.swing(0)->findings.empty());
}

// Everything that is done to the list keeps to the rules for item models; the tester stops the
// program where one is broken.
TEST_F(Session, TheListKeepsTheRulesOfItemModels) {
    SwingFilter filter(&model);
    const QAbstractItemModelTester list(&model,
                                        QAbstractItemModelTester::FailureReportingMode::Fatal);
    const QAbstractItemModelTester seen(&filter,
                                        QAbstractItemModelTester::FailureReportingMode::Fatal);
    open({swing("Ada", ClubKind::Iron, 1), swing("Bo", ClubKind::Driver, 2),
          swing("Cy", ClubKind::Iron, 3)});
    filter.set_words(QStringLiteral("iron"));
    EXPECT_EQ(filter.rowCount(), 2);
    filter.set_sort(SwingFilter::Sort::ClubHeadSpeed);
    mark(0, true, false);
    const auto removed = model.remove(1);
    ASSERT_NE(removed, nullptr);
    model.restore(*removed);
    AnalysisOptions options;
    options.convention = RateConvention::Plane;
    model.set_options(options);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !model.is_loading(); }, 20000));
    EXPECT_EQ(model.rowCount(), 3);
    model.read_again(0, {});
    model.cancel_loading();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !model.is_loading(); }, 20000));
}
