#pragma once

#include "core/depth/depth_statistics.h"
#include "core/depth/histogram.h"
#include "core/passes/pass_source.h"

#include <QString>
#include <map>
#include <optional>
#include <vector>

namespace retinex::app {

/// The depth of one frame in short.
struct DepthColumn
{
    depth::DepthRange range;
    std::vector<float> bins; ///< counts in equal steps of log distance, DepthSurvey::nearest to farthest
};

/// Depth columns on disk, in the user's cache folder: one file for a sequence's depth pass. A column counts
/// as long as its frame has the fingerprint it had. A damaged file counts as empty. For one thread.
class SurveyStore
{
public:
    explicit SurveyStore(const passes::PassSource& source);

    /// `fingerprint`: of the frame's distances after inserts (core/frame/depends_on.h).
    [[nodiscard]] std::optional<DepthColumn> find(int frame, const std::string& fingerprint) const;
    void add(int frame, const std::string& fingerprint, const DepthColumn& column);
    /// Writes what was added; the columns of frames that are not there any more go. A full disk is no error:
    /// there is less to find the next time.
    void save();

private:
    QString m_file;
    struct Entry
    {
        QByteArray key;
        QByteArray packed;
    };
    std::map<int, Entry> m_entries;
    bool m_changed = false;
};

} // namespace retinex::app
