#pragma once

#include "app/session/swing_loader.h"
#include "formats/mapping/column_mapping.h"

#include <QString>

#include <map>
#include <memory>
#include <string>
#include <vector>

namespace kite::app {

/// A file that the import assistant is asked about: what is in it, before anybody has said what it
/// means.
struct ImportSubject {
    enum class Kind {
        Columns, ///< a text table
        Markers, ///< C3D or TRC
        Neither  ///< nothing that could be mapped; `findings` say why
    };
    Kind kind = Kind::Neither;
    QString path;
    std::string bytes;
    std::vector<std::string> names;                     ///< columns or markers
    std::vector<std::vector<double>> columns;           ///< of a table, a value a row
    std::vector<std::vector<Eigen::Vector3d>> tracks_m; ///< of markers, the file's own axes
    double rate_hz = 0.0;                               ///< of markers
    std::vector<Finding> findings;
};

/// What the user has said of it.
struct ImportAnswer {
    formats::ColumnMapping mapping; ///< of a table
    /// Their name → ours, where it is another than the tables give; empty: it is none of ours.
    std::map<std::string, std::string> markers;
    AxisHints axes;
};

/// Both run on a worker thread.
std::shared_ptr<const ImportSubject> inspect_file(const QString& path);
std::shared_ptr<const LoadedSwing> try_import(const std::shared_ptr<const ImportSubject>& subject,
                                              const ImportAnswer& answer,
                                              const formats::ReadOptions& read_options,
                                              const AnalysisOptions& options);

} // namespace kite::app
