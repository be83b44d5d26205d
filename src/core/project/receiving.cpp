#include "core/project/receiving.h"

#include "core/base/file_name.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"
#include "core/base/text.h"
#include "core/ifc/model.h"
#include "core/project/kept_files.h"
#include "core/project/stored_files.h"
#include "core/step/look.h"

#include <algorithm>
#include <map>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

/// Which delivery holds a content, by its SHA-256.
std::map<std::string, std::string> namesByContent(const std::vector<Delivery>& deliveries)
{
    std::map<std::string, std::string> names;
    for (const Delivery& d : deliveries)
        for (const ModelFile& model : d.models())
            names[model.sha256] = d.name();
    return names;
}

FileSigns signsOrName(const fs::path& file)
{
    FileSigns onlyName;
    onlyName.fileName = nameInUtf8(file);
    return signsOf(file).value_or(onlyName);
}

/// How far two names are alike from their beginning.
std::size_t likeness(const fs::path& a, const fs::path& b)
{
    const std::string x = lowerCase(a.filename().string()), y = lowerCase(b.filename().string());
    return static_cast<std::size_t>(std::mismatch(x.begin(), x.end(), y.begin(), y.end()).first - x.begin());
}

/// The draft a document goes with: that of its revision, and among these the one whose models are called most like it.
Draft* draftFor(const fs::path& document, std::vector<Draft>& drafts)
{
    const std::string revision = revisionIn(document.filename().string());
    Draft* best = nullptr;
    std::pair<bool, std::size_t> most;
    for (Draft& draft : drafts)
        for (const fs::path& model : draft.models)
            if (const std::pair fits(draft.proposal.revision == revision, likeness(document, model));
                best == nullptr || fits > most) {
                best = &draft;
                most = fits;
            }
    return best;
}

} // namespace

std::vector<Draft> draftsOf(const fs::path& folder, const std::vector<fs::path>& files,
                            const std::vector<Discipline>& disciplines, const std::vector<Delivery>& deliveries,
                            Progress& progress)
{
    const auto names = namesByContent(deliveries);
    std::map<std::pair<std::string, std::string>, Draft> byWhat; // discipline and revision
    std::vector<fs::path> documents;
    for (std::size_t i = 0; i < files.size() && !progress.isCancelled(); ++i) {
        const std::string name = nameInUtf8(files[i]);
        progress.report("Looking at " + name, static_cast<double>(i) / static_cast<double>(files.size()));
        std::error_code error;
        if (!fs::is_regular_file(files[i], error)) // opening a pipe would wait for ever
            continue;
        if (!isModelFile(files[i])) {
            documents.push_back(files[i]);
            continue;
        }
        Proposal proposal = proposeDelivery(signsOrName(files[i]), disciplines, deliveries);
        Draft& draft = byWhat[{proposal.discipline, proposal.revision}];
        // What is no model is said when it is kept; all of it need not be read for that.
        const auto sum = step::lookAt(files[i]) ? sha256OfFile(files[i]) : Result<std::string>(std::string());
        const auto there = sum ? names.find(*sum) : names.end();
        if (there != names.end()) {
            const auto healed = heal(deliveryFile(folder, *sum, ".ifc"), *sum, files[i], progress);
            draft.hasHealed = draft.hasHealed || (healed && *healed);
            draft.known.push_back(name + " is there already as " + there->second + ", with the same content." +
                                  (!healed   ? " What is kept of it is not sound: " + healed.error().inWords()
                                   : *healed ? " What was kept of it was missing or damaged, and is put back."
                                             : ""));
        } else
            draft.models.push_back(files[i]);
        if (draft.proposal.why.empty())
            draft.proposal = std::move(proposal);
    }
    std::vector<Draft> drafts;
    for (auto& [what, draft] : byWhat)
        drafts.push_back(std::move(draft));
    for (const fs::path& document : documents)
        if (Draft* draft = draftFor(document, drafts))
            draft->documents.push_back(document);
    return drafts;
}

std::vector<NewDelivery> deliveriesOf(const std::vector<Arrived>& arrived, const std::vector<Discipline>& disciplines,
                                      std::vector<Delivery> deliveries)
{
    const auto names = namesByContent(deliveries);
    std::vector<NewDelivery> all;
    for (const Arrived& one : arrived) {
        NewDelivery d;
        for (const fs::path& file : one.models) {
            const auto sum = step::lookAt(file) ? sha256OfFile(file) : Result<std::string>(std::string());
            if (!sum || !names.contains(*sum)) // what can not be read is said when it is kept
                d.models.push_back({file, {}, {}, 0});
        }
        if (d.models.empty())
            continue;
        const FileSigns signs = signsOrName(d.models[0].file);
        std::vector<Discipline> own; // the folder says whose it is, so only that one is proposed
        std::copy_if(disciplines.begin(), disciplines.end(), std::back_inserter(own),
                     [&](const Discipline& x) { return x.name == one.discipline; });
        std::vector<Delivery> before;
        std::copy_if(deliveries.begin(), deliveries.end(), std::back_inserter(before),
                     [&](const Delivery& x) { return x.discipline == one.discipline; });
        Proposal proposal = proposeDelivery(signs, own, before);
        if (proposal.discipline !=
            one.discipline) { // nothing in the name tells, so the revision was not held against its own
            std::string said = revisionIn(signs.fileName);
            if (said.empty())
                said = revisionIn(signs.headerName);
            const bool isTaken =
                std::any_of(before.begin(), before.end(), [&](const Delivery& x) { return x.revision == said; });
            proposal.revision = said.empty() || isTaken ? nextRevision(one.discipline, before) : said;
        }
        d.discipline = one.discipline;
        d.revision = proposal.revision;
        d.title = proposal.title;
        d.suitability = proposal.suitability;
        d.documents = one.documents;
        d.sender = own.empty() || own[0].company.empty() ? proposal.sender : own[0].company;
        d.note = "Came in by its drop folder.";
        Delivery taken; // the next one of this team must not propose the same
        taken.discipline = d.discipline;
        taken.revision = d.revision;
        taken.fileName = signs.fileName;
        deliveries.push_back(std::move(taken));
        all.push_back(std::move(d));
    }
    return all;
}

Result<NewDelivery::Model> describeModel(const fs::path& file, Progress& progress)
{
    const auto model = ifc::Model::open(file, progress);
    if (!model)
        return fail(model.error());
    return NewDelivery::Model{file, (*model)->projectGuid(), std::string((*model)->source().schema().name()),
                              (*model)->elements().size()};
}

Result<DeliveryId> receiveDelivery(const fs::path& folder, NewDelivery delivery,
                                   const std::function<Result<DeliveryId>(const NewDelivery&)>& keep,
                                   Progress& progress)
{
    const auto project = Project::open(folder, Project::Access::Read);
    if (!project)
        return fail(project.error());
    HashedCopies copies(folder / "deliveries");
    for (NewDelivery::Model& model : delivery.models) {
        const fs::path sent = model.file;
        if (const auto looked = step::lookAt(sent); !looked)
            return fail(looked.error());
        const auto sum = copies.add(sent, ".ifc", progress);
        if (!sum)
            return fail(sum.error());
        const auto known = (*project)->deliveries().withContent(*sum);
        if (!known)
            return fail(known.error());
        if (*known) { // said before a large file is read for nothing
            if (copies.hasMade())
                copies.keep();
            return fail({kSameDelivery,
                         "The same file is already there as " + (*known)->name() + "." +
                             (copies.hasMade() ? " What was kept of it was missing or damaged, and is put back." : ""),
                         sent.string()});
        }
        auto described = describeModel(copies.pathOf(*sum, ".ifc"), progress);
        if (!described) {
            Error error = described.error();
            error.file = sent.string();
            return fail(std::move(error));
        }
        model = std::move(*described);
        model.file = sent;
        model.sha256 = *sum;
    }
    for (const fs::path& document : delivery.documents) {
        const auto sum = copies.add(document, lowerCase(document.extension().string()), progress);
        if (!sum)
            return fail(sum.error());
        delivery.documentSums.push_back(*sum);
    }
    if (progress.isCancelled())
        return fail({kCopyCancelled, "Cancelled; nothing was kept."});
    auto id = keep(delivery);
    if (id)
        copies.keep();
    return id;
}

} // namespace wendrix::project
