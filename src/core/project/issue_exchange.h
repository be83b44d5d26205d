#pragma once

#include "core/base/progress.h"
#include "core/bcf/version.h"
#include "core/issues/merge.h"
#include "core/project/project.h"

#include <functional>
#include <set>

/// Issues handed over as BCF files and taken over when they come back. What was sent is kept, so that what comes back
/// is compared with it: what the other side changed is theirs, what changed here meanwhile is ours, and only what both
/// changed is a conflict.
namespace wendrix::project {

inline constexpr ErrorCode kExchangeCancelled{"issues.exchange-cancelled"};

struct SendOrder {
    std::vector<std::string> uuids;
    bcf::Version version = bcf::Version::V21;
    std::filesystem::path file;
    std::string partner = {}; ///< for whom; may be empty
};
/// What was written, and what the version could not say, entry by entry.
struct Sent {
    Exchange exchange;
    std::vector<std::string> topics, mapped;
};
/// Writes issues and keeps a copy of what was written. Viewpoints are written in the coordinates the workflow says.
/// @return kExchangeCancelled, or why nothing could be written
[[nodiscard]] Result<Sent> writeIssues(const Project& project, const SendOrder& order, const WhoAndWhen& who,
                                       Progress& progress);
/// Notes that it was sent, for what comes back. No step of undo: it is out of the house.
[[nodiscard]] Result<void> recordSent(Project& project, const Sent& sent, const WhoAndWhen& who);

/// A topic of a file that came, and what it brings.
struct IncomingTopic {
    issues::Issue theirs;
    std::string number;                     ///< of our issue; empty where it is new here
    bool hasBase = false;                   ///< it was sent to somebody before, so it is known who changed what
    issues::Merge merge;                    ///< over our issue; nothing where it is new
    issues::Issue ours;                     ///< as it was compared with
    std::vector<KeptIssue::Origin> origins; ///< that it will have
    std::vector<std::pair<std::string, std::string>> pictures; ///< of its viewpoints, where they are kept
    [[nodiscard]] bool isNew() const { return number.empty(); }
};

/// A BCF file that came, compared with the project, before anything of it is taken over.
struct Incoming {
    std::filesystem::path file;
    std::string sha256, version, projectName;
    std::size_t unchanged = 0;         ///< topics that bring nothing
    std::vector<IncomingTopic> topics; ///< those that do, new ones last
    std::vector<Diagnostic> faults;    ///< of the file, entry by entry
    /// Values the file's extensions allow and the project does not offer; statuses and users stay as they are.
    struct Values {
        std::vector<std::string> types, priorities, stages, labels;
        [[nodiscard]] bool isEmpty() const
        {
            return types.empty() && priorities.empty() && stages.empty() && labels.empty();
        }
    } values = {};

    [[nodiscard]] std::size_t conflicts() const;
};
/// What the models in use know of an element that a file names by GlobalId alone.
struct ElementWhere {
    DisciplineId discipline = 0;
    issues::Location location; ///< storey and bay; empty where it has none
};
/// Asked for a GlobalId; may be none where no model is loaded.
using FindElement = std::function<std::optional<ElementWhere>(const std::string& guid)>;
/// Keeps the file and compares it.
/// @return what File::open gives, kExchangeCancelled
[[nodiscard]] Result<Incoming> readIncoming(const Project& project, const std::filesystem::path& file,
                                            const FindElement& find, Progress& progress);

/// What a person decided of it.
struct Decisions {
    std::set<std::pair<std::string, std::size_t>>
        theirs; ///< differences of a topic, by number, where their side is taken
    std::set<std::pair<std::string, std::size_t>> ours; ///< where ours is, although only they changed it
    std::set<std::string> leftOut;                      ///< topics nothing of which is taken over
};
/// Whether a difference is settled on their side.
[[nodiscard]] bool isTheirs(const IncomingTopic& topic, std::size_t difference, const Decisions& decisions);
/// Takes it over as one step. What changed here since it was compared is compared again.
/// @return in words, what was taken over
[[nodiscard]] Result<std::string> takeOver(Project& project, const Incoming& incoming, const Decisions& decisions,
                                           const WhoAndWhen& who);

/// The values a file brings are offered from now on.
[[nodiscard]] Result<void> offerValues(Project& project, const Incoming::Values& values, const WhoAndWhen& who);
/// Takes nothing over, and keeps the file no longer, unless it was exchanged before.
void leave(const Project& project, const Incoming& incoming);

/// The bytes of a file that came beside an issue's viewpoints, as a bitmap's reference names it: from the newest of
/// its origins that holds it. Empty where none does.
[[nodiscard]] std::string fileBeside(const Project& project, std::span<const KeptIssue::Origin> origins,
                                     const std::string& reference);
/// The bytes of a document that an issue holds inside. @return kUnknown where it is nowhere any more
[[nodiscard]] Result<std::string> documentOf(const Project& project, std::span<const KeptIssue::Origin> origins,
                                             const issues::DocumentReference& document);
/// A viewpoint in the project's own coordinates, whatever it was given in; as its member stands now.
[[nodiscard]] Result<issues::Viewpoint> inProject(const Project& project, const issues::Viewpoint& viewpoint);

} // namespace wendrix::project
