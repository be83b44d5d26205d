#include "core/coordinates/crs.h"

#include "core/base/text.h"

#include <fmt/format.h>
#include <proj.h>

#include <cmath>
#include <limits>
#include <mutex>
#include <regex>

namespace wendrix::coordinates {

namespace {

constexpr std::size_t kLongestName = 200;
constexpr int kMostWays = 60;
constexpr const char* kLongitudeLatitude = "EPSG:4326";

struct ContextCloser {
    void operator()(PJ_CONTEXT* context) const { proj_context_destroy(context); }
};
struct Closer {
    void operator()(PJ* object) const { proj_destroy(object); }
};
using Object = std::unique_ptr<PJ, Closer>;
using Context = std::unique_ptr<PJ_CONTEXT, ContextCloser>;

Context makeContext()
{
    Context context(proj_context_create());
    proj_context_set_enable_network(context.get(), 0); // nothing is ever fetched
    proj_log_level(context.get(), PJ_LOG_NONE);        // what is wrong is said in our words
    return context;
}

/// "EPSG:25832" of whatever a file writes around the number; empty where there is none.
std::string codeIn(const std::string& name)
{
    static const std::regex written(R"((?:^|[^A-Za-z])EPSG\s*(?::\s*[0-9.]*\s*:|[:\s_-])?\s*(\d{4,6})(?!\d))",
                                    std::regex::icase);
    static const std::regex bare(R"(\s*(\d{4,6})\s*)");
    std::smatch found;
    if (name.size() > kLongestName)
        return {};
    if (std::regex_search(name, found, written) || std::regex_match(name, found, bare))
        return "EPSG:" + found.str(1);
    return {};
}

Object open(PJ_CONTEXT* context, const std::string& name)
{
    if (const std::string code = codeIn(name); !code.empty())
        return Object(proj_create(context, code.c_str()));
    if (name.empty() || name.size() > kLongestName)
        return nullptr;
    // By its name in the register; never as a definition that a file brings.
    const PJ_TYPE types[] = {PJ_TYPE_PROJECTED_CRS};
    PJ_OBJ_LIST* list = proj_create_from_name(context, "EPSG", name.c_str(), types, 1, 0, 1, nullptr);
    if (list == nullptr)
        return nullptr;
    Object found(proj_list_get_count(list) > 0 ? proj_list_get(context, list, 0) : nullptr);
    proj_list_destroy(list);
    return found;
}

Error unknown(const std::string& name)
{
    return {kUnknownCrs, "The coordinate reference system \"" + name.substr(0, kLongestName) +
                             "\" is none that the EPSG register knows; name it as \"EPSG:\" and its number."};
}

} // namespace

Result<Crs> findCrs(const std::string& name)
{
    const Context context = makeContext();
    const Object crs = open(context.get(), name);
    if (!crs)
        return fail(unknown(name));
    const char* code = proj_get_id_code(crs.get(), 0);
    const char* called = proj_get_name(crs.get());
    return Crs{code != nullptr ? std::string("EPSG:") + code : codeIn(name), called != nullptr ? called : name};
}

namespace {

/// Metres of one unit of a projected system's axes, as 0.3048006 where they are in US survey feet; 1 for degrees.
double metresOfAxis(PJ_CONTEXT* context, const PJ* crs)
{
    if (proj_get_type(crs) == PJ_TYPE_COMPOUND_CRS || proj_get_type(crs) == PJ_TYPE_BOUND_CRS) {
        const Object horizontal(proj_get_type(crs) == PJ_TYPE_BOUND_CRS ? proj_get_source_crs(context, crs)
                                                                        : proj_crs_get_sub_crs(context, crs, 0));
        return horizontal ? metresOfAxis(context, horizontal.get()) : 1;
    }
    if (proj_get_type(crs) != PJ_TYPE_PROJECTED_CRS)
        return 1;
    const Object axes(proj_crs_get_coordinate_system(context, crs));
    double factor = 1;
    if (!axes || proj_cs_get_axis_info(context, axes.get(), 0, nullptr, nullptr, nullptr, &factor, nullptr, nullptr,
                                       nullptr) == 0)
        return 1;
    return factor > 0 && std::isfinite(factor) ? factor : 1;
}

} // namespace

struct CrsTransform::Engine {
    Context context;
    Object transform;
    double from = 1, to = 1; ///< metres of a unit of each side's axes
    std::mutex mutex;        ///< PROJ's objects are used by one thread at a time
};

Result<CrsTransform> CrsTransform::make(const std::string& from, const std::string& to)
{
    auto engine = std::make_shared<Engine>();
    engine->context = makeContext();
    PJ_CONTEXT* context = engine->context.get();
    const Object source = open(context, from), target = open(context, to);
    if (!source)
        return fail(unknown(from));
    if (!target)
        return fail(unknown(to));
    Object way(proj_create_crs_to_crs_from_pj(context, source.get(), target.get(), nullptr, nullptr));
    if (way)
        engine->transform.reset(proj_normalize_for_visualization(context, way.get()));
    engine->from = metresOfAxis(context, source.get());
    engine->to = metresOfAxis(context, target.get());
    if (!engine->transform)
        return fail({kNoWayBetween, "No way is known from " + from + " to " + to + "."});

    CrsTransform result;
    // Of all ways between the two, the best one may need files that are not here.
    PJ_OPERATION_FACTORY_CONTEXT* factory = proj_create_operation_factory_context(context, nullptr);
    proj_operation_factory_context_set_grid_availability_use(context, factory, PROJ_GRID_AVAILABILITY_IGNORED);
    proj_operation_factory_context_set_spatial_criterion(context, factory, PROJ_SPATIAL_CRITERION_PARTIAL_INTERSECTION);
    PJ_OBJ_LIST* ways = proj_create_operations(context, source.get(), target.get(), factory);
    double atHand = -1, best = -1; // metres; below 0 is not known
    std::string missing;
    for (int w = 0; ways != nullptr && w < std::min(proj_list_get_count(ways), kMostWays); ++w) {
        const Object one(proj_list_get(context, ways, w));
        const double accuracy = proj_coordoperation_get_accuracy(context, one.get());
        std::string file;
        for (int i = 0; i < proj_coordoperation_get_grid_used_count(context, one.get()); ++i) {
            const char* name = nullptr;
            int isAvailable = 0;
            if (proj_coordoperation_get_grid_used(context, one.get(), i, &name, nullptr, nullptr, nullptr, nullptr,
                                                  nullptr, &isAvailable) != 0 &&
                isAvailable == 0)
                file = name != nullptr ? name : "(unnamed)";
        }
        if (accuracy < 0)
            continue;
        if (file.empty() && (atHand < 0 || accuracy < atHand))
            atHand = accuracy;
        if (!file.empty() && (best < 0 || accuracy < best)) {
            best = accuracy;
            missing = file;
        }
    }
    if (best >= 0 && (atHand < 0 || best < atHand))
        result.warnings_.push_back(fmt::format(
            "The most exact way from {} to {} ({:g} m) needs the datum's grid file {}, which is not on this "
            "machine; without it positions may be off by {}.",
            from, to, best, missing, atHand < 0 ? "many metres" : fmt::format("{:g} m", atHand)));
    proj_list_destroy(ways);
    proj_operation_factory_context_destroy(factory);
    result.engine_ = std::move(engine);
    return result;
}

Result<CrsTransform> CrsTransform::between(const std::string& from, const std::string& to) { return make(from, to); }

Result<CrsTransform> CrsTransform::toLongitudeLatitude(const std::string& from)
{
    return make(from, kLongitudeLatitude);
}

namespace {

/// @param from, to  metres of a unit on either side; PROJ speaks in the units of the systems' axes
Point3 taken(PJ* transform, PJ_DIRECTION direction, Point3 place, double from, double to)
{
    const PJ_COORD out = proj_trans(transform, direction, proj_coord(place.x / from, place.y / from, 0, HUGE_VAL));
    const double x = out.xy.x * to, y = out.xy.y * to;
    if (!std::isfinite(x) || !std::isfinite(y)) {
        constexpr double kNone = std::numeric_limits<double>::quiet_NaN();
        return {kNone, kNone, kNone};
    }
    return {x, y, place.z};
}

} // namespace

Point3 CrsTransform::apply(Point3 place) const
{
    const std::lock_guard lock(engine_->mutex);
    return taken(engine_->transform.get(), PJ_FWD, place, engine_->from, engine_->to);
}

Point3 CrsTransform::applyBackwards(Point3 place) const
{
    const std::lock_guard lock(engine_->mutex);
    return taken(engine_->transform.get(), PJ_INV, place, engine_->to, engine_->from);
}

} // namespace wendrix::coordinates
