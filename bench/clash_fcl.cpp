#include "clash.h"
#include "measure.h"

#include <fcl/fcl.h>
#include <tbb/parallel_for.h>

#include <atomic>
#include <memory>
#include <mutex>

namespace wendrix::bench {

namespace {

using Model = fcl::BVHModel<fcl::OBBRSSd>;

struct Set {
    Set(const std::vector<geometry::Mesh>& m, double grow) : meshes(m), models(m.size()), once(m.size())
    {
        for (std::size_t i = 0; i < m.size(); ++i) {
            const Box3 b = geometry::boundsOf(m[i]).grownBy(grow);
            const fcl::Vector3d size(b.size().x, b.size().y, b.size().z);
            const Point3 c = b.centre();
            boxes.push_back(std::make_unique<fcl::CollisionObjectd>(
                std::make_shared<fcl::Boxd>(size), fcl::Matrix3d::Identity(), fcl::Vector3d(c.x, c.y, c.z)));
            boxes.back()->setUserData(reinterpret_cast<void*>(i));
            objects.push_back(boxes.back().get());
        }
        manager.registerObjects(objects);
        manager.setup();
    }
    const Model& model(std::size_t i)
    {
        std::call_once(once[i], [&] {
            std::vector<fcl::Vector3d> points;
            std::vector<fcl::Triangle> triangles;
            for (const Point3& p : meshes[i].points)
                points.emplace_back(p.x, p.y, p.z);
            for (const auto& t : meshes[i].triangles)
                triangles.emplace_back(t[0], t[1], t[2]);
            models[i] = std::make_shared<Model>();
            models[i]->beginModel(static_cast<int>(triangles.size()), static_cast<int>(points.size()));
            models[i]->addSubModel(points, triangles);
            models[i]->endModel();
        });
        return *models[i];
    }
    const std::vector<geometry::Mesh>& meshes;
    std::vector<std::shared_ptr<Model>> models;
    std::vector<std::once_flag> once;
    std::vector<std::unique_ptr<fcl::CollisionObjectd>> boxes;
    std::vector<fcl::CollisionObjectd*> objects;
    fcl::DynamicAABBTreeCollisionManagerd manager;
};

using Candidates = std::vector<std::pair<std::size_t, std::size_t>>;

Candidates candidatesOf(Set& a, Set& b)
{
    Candidates candidates;
    a.manager.collide(&b.manager, &candidates, [](fcl::CollisionObjectd* x, fcl::CollisionObjectd* y, void* data) {
        static_cast<Candidates*>(data)->emplace_back(reinterpret_cast<std::size_t>(x->getUserData()),
                                                     reinterpret_cast<std::size_t>(y->getUserData()));
        return false;
    });
    return candidates;
}

} // namespace

Others hardWithFcl(const std::vector<geometry::Mesh>& left, const std::vector<geometry::Mesh>& right)
{
    std::atomic<std::size_t> pairs{0};
    const double ms = milliseconds(1, [&] {
        Set a(left, 0), b(right, 0);
        const Candidates candidates = candidatesOf(a, b);
        tbb::parallel_for(std::size_t{0}, candidates.size(), [&](std::size_t k) {
            const fcl::CollisionRequestd request(1, true);
            fcl::CollisionResultd result;
            const fcl::Transform3d at = fcl::Transform3d::Identity();
            if (fcl::collide(&a.model(candidates[k].first), at, &b.model(candidates[k].second), at, request, result) >
                0)
                ++pairs;
        });
    });
    return {pairs, ms, "FCL"};
}

Others clearanceWithFcl(const std::vector<geometry::Mesh>& left, const std::vector<geometry::Mesh>& right, double reach)
{
    std::atomic<std::size_t> pairs{0};
    const double ms = milliseconds(1, [&] {
        Set a(left, reach), b(right, 0);
        const Candidates candidates = candidatesOf(a, b);
        tbb::parallel_for(std::size_t{0}, candidates.size(), [&](std::size_t k) {
            const fcl::DistanceRequestd request(true);
            fcl::DistanceResultd result;
            const fcl::Transform3d at = fcl::Transform3d::Identity();
            if (fcl::distance(&a.model(candidates[k].first), at, &b.model(candidates[k].second), at, request, result) <
                reach)
                ++pairs;
        });
    });
    return {pairs, ms, "FCL"};
}

} // namespace wendrix::bench
