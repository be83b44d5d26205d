#include "measure.h"

#include "core/federation/member_cache.h"
#include "core/view/cut_faces.h"
#include "core/view/search.h"
#include "scene/scene_view.h"

#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVertexArrayObject>

using namespace wendrix;

namespace {

/// What drawing costs where every element is drawn by a call of its own, with its own map, by a shader that does
/// less than ours and without edges. Shapes are shared, or the largest models would not fit beside ours.
class OneCallEach : protected QOpenGLFunctions_3_3_Core {
public:
    explicit OneCallEach(const federation::Member& member)
    {
        initializeOpenGLFunctions();
        program_.addShaderFromSourceCode(
            QOpenGLShader::Vertex,
            "#version 330 core\nlayout(location=0) in vec3 p; layout(location=1) in vec3 n;"
            "uniform mat4 m; flat out vec3 c; void main() { c = abs(n); gl_Position = m * vec4(p, 1.0); }");
        program_.addShaderFromSourceCode(
            QOpenGLShader::Fragment,
            "#version 330 core\nflat in vec3 c; out vec4 r; void main() { r = vec4(c, 1.0); }");
        program_.link();
        std::vector<float> vertices;
        std::vector<GLint> firsts;
        for (const auto& shape : member.geometry->shapes()) {
            firsts.push_back(static_cast<GLint>(vertices.size() / 6));
            for (std::size_t t = 0; t < shape.mesh.triangles.size(); ++t) {
                const auto c = shape.mesh.corners(t);
                const Vector3 n = normalised(cross(c[1] - c[0], c[2] - c[0]));
                for (const Point3 p : c)
                    for (const double v : {p.x, p.y, p.z, n.x, n.y, n.z})
                        vertices.push_back(static_cast<float>(v));
            }
        }
        firsts.push_back(static_cast<GLint>(vertices.size() / 6));
        for (const auto& element : member.geometry->elements())
            for (const auto& placed : element.placed) {
                const Point3 o = placed.placement.apply(Point3{});
                const Vector3 x = placed.placement.apply(Point3{1, 0, 0}) - o,
                              y = placed.placement.apply(Point3{0, 1, 0}) - o,
                              z = placed.placement.apply(Point3{0, 0, 1}) - o;
                const auto f = [](double v) { return static_cast<float>(v); };
                calls_.push_back({QMatrix4x4(f(x.x), f(y.x), f(z.x), f(o.x), f(x.y), f(y.y), f(z.y), f(o.y), f(x.z),
                                             f(y.z), f(z.z), f(o.z), 0, 0, 0, 1),
                                  firsts[placed.shape], firsts[placed.shape + 1] - firsts[placed.shape]});
            }
        array_.create();
        array_.bind();
        glGenBuffers(1, &buffer_);
        glBindBuffer(GL_ARRAY_BUFFER, buffer_);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(vertices.size() * sizeof(float)), vertices.data(),
                     GL_STATIC_DRAW);
        for (const GLuint i : {0u, 1u}) {
            glEnableVertexAttribArray(i);
            glVertexAttribPointer(i, 3, GL_FLOAT, GL_FALSE, 24, reinterpret_cast<const void*>(std::size_t{12} * i));
        }
        array_.release();
    }
    void draw(const QMatrix4x4& map)
    {
        glEnable(GL_DEPTH_TEST);
        glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
        program_.bind();
        array_.bind();
        for (const Call& call : calls_) {
            program_.setUniformValue("m", map * call.map);
            glDrawArrays(GL_TRIANGLES, call.first, call.count);
        }
        array_.release();
        glFinish();
    }

private:
    struct Call {
        QMatrix4x4 map;
        GLint first;
        GLsizei count;
    };
    std::vector<Call> calls_;
    QOpenGLShaderProgram program_;
    QOpenGLVertexArrayObject array_;
    GLuint buffer_ = 0;
};

/// Five of a member, as many elements as a federation has: selecting tells the graphics side what differs, or
/// everything anew.
void measureSelecting(app::SceneView& scene, const federation::Member& member)
{
    std::vector<federation::Member> five(5, member);
    for (std::size_t i = 0; i < five.size(); ++i)
        five[i].fit.translation.x += 2000.0 * static_cast<double>(i);
    scene.setMembers(five, std::vector<view::MemberLook>(five.size()));
    (void)scene.picker();
    (void)scene.grabFramebuffer();
    const auto count = member.model->elements().size();
    for (const std::size_t wanted : {std::size_t{1}, std::size_t{10'000}}) {
        double ours = 1e300, anew = 1e300;
        for (std::size_t run = 0; run < 3; ++run) {
            std::set<view::ElementKey> some;
            for (std::size_t i = 0; i < wanted; ++i)
                some.insert({static_cast<std::uint32_t>(i % five.size()),
                             static_cast<ifc::ElementIndex>((i * 7 + run) % count)});
            ours = std::min(ours, bench::milliseconds(1, [&] {
                                scene.choose(some);
                                (void)scene.grabFramebuffer();
                            }));
            anew = std::min(anew, bench::milliseconds(1, [&] {
                                scene.setRule(scene.rule()); // every colour is worked out and sent
                                (void)scene.grabFramebuffer();
                            }));
        }
        fmt::print("selecting {} of {} elements, with its frame: {:.1f} ms; everything anew: {:.1f} ms\n", wanted,
                   5 * count, ours, anew);
    }
}

} // namespace

/// Measures the scene on one large model: drawing at rest and on the move against a call for each element, picking,
/// cutting, searching; or only selecting, of which the largest models can be measured within minutes.
int main(int argc, char** argv)
{
    const bool isSelectingOnly = argc == 3 && std::string_view(argv[2]) == "selecting";
    if (argc != 2 && !isSelectingOnly) {
        fmt::print(stderr, "usage: wendrix-bench-scene FILE.ifc [selecting]\n");
        return 2;
    }
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    Progress progress;
    const federation::Member member = federation::openMember(argv[1], progress).value();
    const std::size_t triangles = member.geometry->triangleCount();
    fmt::print("{} elements, {} triangles in {} shapes\n", member.model->elements().size(), triangles,
               member.geometry->shapes().size());

    app::SceneView scene;
    scene.resize(900, 700);
    scene.show();
    if (isSelectingOnly) {
        measureSelecting(scene, member);
        fmt::print("peak memory {:.0f} MB\n", bench::peakMegabytes());
        return 0;
    }
    const double send = bench::milliseconds(1, [&] {
        scene.setMembers({member}, std::vector<view::MemberLook>(1));
        (void)scene.grabFramebuffer();
    });
    scene.fitAll();
    const double rest = bench::milliseconds(3, [&] { (void)scene.picture(); });
    double moving = 1e300;
    std::uint64_t drawn = 0;
    for (int i = 0; i < 12; ++i) { // it learns the pace on the way
        scene.steer(view::orbited(scene.camera(), scene.camera().target, Radians{0.05}, Radians{0}));
        moving = bench::milliseconds(1, [&] { (void)scene.grabFramebuffer(); });
        drawn = scene.renderer().drawnTriangles();
    }
    // At rest it is drawn in pieces, so that keys and mouse get a word in: how long the longest takes, and how many.
    QElapsedTimer clock;
    double longest = 0;
    int pieces = 0;
    scene.finishMotion();
    for (bool isWhole = false; !isWhole; ++pieces) {
        clock.start();
        (void)scene.grabFramebuffer(); // paints as for the screen
        longest = std::max(longest, static_cast<double>(clock.nsecsElapsed()) / 1e6);
        isWhole = scene.renderer().isWhole();
    }
    clock.start();
    (void)scene.grabFramebuffer();
    const double again = static_cast<double>(clock.nsecsElapsed()) / 1e6;
    double naive = 0;
    {
        scene.makeCurrent();
        QOpenGLFramebufferObject target(900, 700, QOpenGLFramebufferObject::Depth);
        target.bind();
        OneCallEach each(member);
        QMatrix4x4 map;
        const Point3 middle = member.geometry->bounds().centre();
        const auto vector = [](Point3 p) {
            return QVector3D(static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z));
        };
        map.perspective(40, 900.0f / 700, 1, 5000);
        map.lookAt(vector(scene.camera().eye), vector(middle), {0, 0, 1});
        naive = bench::milliseconds(3, [&] { each.draw(map); });
        target.release();
        scene.doneCurrent();
    }
    fmt::print("on the graphics side {} MB, {} MB with every element's own triangles\n",
               scene.renderer().bytes() / 1'000'000, triangles * 3 * 24 / 1'000'000);
    fmt::print("sent and drawn first in {:.0f} ms; at rest, smooth and shaded, {:.0f} ms; moving {:.0f} ms with {} "
               "triangles\n",
               send, rest, moving, drawn);
    fmt::print("at rest on the screen in {} pieces, the longest {:.0f} ms; once whole, shown again in {:.1f} ms\n",
               pieces, longest, again);
    fmt::print("a call for each element, plain: {:.0f} ms; moving is {:.1f} times as fast\n", naive, naive / moving);

    std::size_t hits = 0;
    const auto pick = [&] {
        for (int y = 10; y < 700; y += 23)
            for (int x = 10; x < 900; x += 23)
                hits += scene.pickAt(QPointF(x, y)) ? 1 : 0;
    };
    pick(); // trees are made when first met
    const double picking = bench::milliseconds(2, pick);
    fmt::print("picking {:.1f} µs a ray\n", 1000 * picking / (30 * 39));
    const Point3 middle = member.geometry->bounds().centre();
    const std::vector<federation::Member> members{member};
    for (const auto& [words, normal] : {std::pair{"level", Vector3{0, 0, 1}}, {"upright", Vector3{1, 0, 0}}}) {
        std::size_t cut = 0;
        const double ms = bench::milliseconds(3, [&] {
            cut = view::cutFaces(members, scene.colours(), {middle, normal}).faces.size();
        });
        fmt::print("a {} cut through {} elements: {:.1f} ms\n", words, cut, ms);
    }
    measureSelecting(scene, member);
    view::SearchIndex index;
    const double note = bench::milliseconds(1, [&] { index = view::SearchIndex::build(members, progress); });
    double slowest = 0;
    for (const char* query : {"p", "pipe", "level 3 pipe", "zzz", "0", "e e e e"})
        slowest = std::max(slowest, bench::milliseconds(3, [&] { (void)index.find(query, 14); }));
    fmt::print("names noted in {:.0f} ms ({} rows); the slowest of six searches {:.1f} ms\npeak memory {:.0f} MB\n",
               note, index.size(), slowest, bench::peakMegabytes());
    return 0;
}
