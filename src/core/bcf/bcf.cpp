#include "core/bcf/bcf.h"

#include "core/bcf/writer.h"

#include <algorithm>
#include <limits>

namespace wendrix::bcf {

namespace {

Document wholeOf(File& file)
{
    Document document{file.version(), file.projectId(), file.projectName(), {}, {}};
    for (std::size_t i = 0; i < file.topicCount(); ++i) {
        auto topic = file.topic(i);
        if (!topic)
            continue; // among the diagnostics
        for (issues::Viewpoint& v : topic->issue.viewpoints)
            if (const auto picture = topic->pictures.find(v.uuid); picture != topic->pictures.end())
                v.snapshot = orNothing(picture->second.read());
        document.issues.push_back(std::move(topic->issue));
    }
    std::stable_sort(
        document.issues.begin(), document.issues.end(), [](const issues::Issue& a, const issues::Issue& b) {
            constexpr int kLast = std::numeric_limits<int>::max();
            return std::pair(a.index.value_or(kLast), a.createdAt) < std::pair(b.index.value_or(kLast), b.createdAt);
        });
    document.diagnostics = file.diagnostics();
    return document;
}

} // namespace

Result<std::string> write(std::span<const issues::Issue> issues, Version version, const std::string& projectId,
                          const std::string& projectName)
{
    Writer writer(version);
    writer.setProject(projectId, projectName);
    for (const issues::Issue& issue : issues) {
        Topic topic;
        topic.issue = issue;
        writer.add(topic);
    }
    return writer.bytes();
}

Result<Document> read(std::string_view bytes)
{
    const auto file = File::ofBytes(std::string(bytes));
    if (!file)
        return fail(file.error());
    return wholeOf(**file);
}

Result<Document> readFile(const std::filesystem::path& path)
{
    const auto file = File::open(path);
    if (!file)
        return fail(file.error());
    return wholeOf(**file);
}

} // namespace wendrix::bcf
