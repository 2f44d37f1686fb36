#pragma once

#include "core/film/solve.h"
#include "core/film/track.h"

#include <optional>

namespace kite::film {

/// The unknowns of all moments together, and how well they explain the marks.
class Bundle {
public:
    explicit Bundle(const Marks& marks);

    /// Unknowns that all moments share, with what is known of each beforehand.
    struct Given {
        Eigen::VectorXd mean;
        Eigen::VectorXd sd;
    };
    /// A moment: the points that some view has there.
    struct Frame {
        double t_s = 0.0;
        std::vector<std::size_t> points;
        /// View and point of the marks that count here, whatever the clocks' offset becomes: else
        /// losing marks would look like fitting them.
        std::vector<std::pair<std::size_t, std::size_t>> seen;
        Eigen::VectorXd x; ///< three numbers a point
    };

    const Given& given() const { return given_; }
    std::vector<Frame>& frames() { return frames_; }
    const std::vector<Frame>& frames() const { return frames_; }

    Camera camera(const Eigen::VectorXd& g, std::size_t view) const;
    double offset_s(const Eigen::VectorXd& g, std::size_t view) const;
    double length_m(const Eigen::VectorXd& g, Link link) const;
    /// Index of a camera's number among the shared unknowns.
    enum class Part { Pitch, Yaw, Roll, Right, Up, LogDistance, LogFocal };
    Eigen::Index index(std::size_t view, Part part) const;
    Eigen::Index offset_index(std::size_t view) const; ///< not of the first
    Eigen::Index length_index(Link link) const;
    Eigen::Index plane_index(Link link) const; ///< of arm and club
    bool length_told(Link link) const { return length_told_[static_cast<std::size_t>(link)]; }

    /// What is left over, in standard deviations; those of marks beyond three grow more slowly, so
    /// that one wrong click does not pull everything along. Those of marks come first.
    Eigen::VectorXd residuals(const Eigen::VectorXd& g, const Frame& frame,
                              Eigen::Index* of_marks = nullptr) const;
    /// Of what is known beforehand and of plumb and target lines.
    Eigen::VectorXd own_residuals(const Eigen::VectorXd& g) const;

    /// Least squares over some of the frames, whose points it leaves where they fit best; over none
    /// of them what is known beforehand and the lines alone decide.
    Eigen::VectorXd solve(Eigen::VectorXd g, const std::vector<std::size_t>& which);
    /// Only the points, the shared unknowns as they are.
    void solve_points(const Eigen::VectorXd& g, Frame& frame) const;

    /// Normal matrices of one frame: of its points, and between them and what is shared.
    struct Normal {
        Eigen::MatrixXd points;  ///< JxᵀJx
        Eigen::MatrixXd between; ///< JxᵀJg
        Eigen::MatrixXd shared;  ///< JgᵀJg
        Eigen::VectorXd pull_points;
        Eigen::VectorXd pull_shared;
    };
    Normal normal(const Eigen::VectorXd& g, const Frame& frame) const;
    /// Covariance of the shared unknowns by the frames, their points being unknown too.
    Eigen::MatrixXd covariance(const Eigen::VectorXd& g,
                               const std::vector<std::size_t>& which) const;

    /// Of the lab, the axis that no view shows; -1: all are shown.
    int hidden_axis() const { return hidden_axis_; }
    const Track& track(std::size_t view, std::size_t point) const { return tracks_[view][point]; }
    const Marks& marks() const { return marks_; }
    double error_px() const { return error_px_; }
    /// Whether arm and club say nothing of cameras and lengths: with a single view their own share
    /// along it is unknown in every picture, which would bend the scale.
    void leave_out_arms(bool out) { trunk_alone_ = out; }
    /// Keeps the cameras' directions where they are; empty: lets them go. A single view cannot tell
    /// its own direction from a body that is free to turn.
    void hold_directions(const Eigen::VectorXd& g) { held_ = g; }
    /// How large a length is seen across the picture where it is widest, px a metre of it at the
    /// belt, as one more observation of a view.
    void add_scale(std::size_t view, double px_per_m, double log_sd) {
        scales_.push_back({view, px_per_m, log_sd});
    }
    /// Times what it is: a coarse search finds the neighbourhood before a fine one.
    void widen(double times) { error_px_ *= times; }
    /// Sum of squares of what is left of the marks, and how large it should be.
    std::pair<double, double> misfit(const Eigen::VectorXd& g,
                                     const std::vector<std::size_t>& which) const;

private:
    struct Placed;
    void add_marks(const Eigen::VectorXd& g, const Frame& frame, const Placed& placed,
                   std::vector<double>& r) const;
    void add_lengths(const Eigen::VectorXd& g, const Placed& placed, std::vector<double>& r) const;
    void add_usual_body(const Eigen::VectorXd& g, const Placed& placed,
                        std::vector<double>& r) const;
    double cost(const Eigen::VectorXd& g, const std::vector<Frame>& frames,
                const std::vector<std::size_t>& which) const;
    Eigen::MatrixXd by_points(const Eigen::VectorXd& g, const Frame& frame) const;
    Eigen::MatrixXd by_shared(const Eigen::VectorXd& g, const Frame& frame) const;

    const Marks& marks_;
    double error_px_;
    std::vector<std::array<Track, kPoints>> tracks_;
    std::array<bool, 4> length_told_{};
    struct Scale {
        std::size_t view;
        double px_per_m;
        double log_sd;
    };
    std::vector<Scale> scales_;
    Eigen::VectorXd held_; ///< empty: nothing is held
    bool trunk_alone_ = false;
    int hidden_axis_ = -1; ///< of the lab, that no view shows
    Given given_;
    std::vector<Frame> frames_;
};

} // namespace kite::film
