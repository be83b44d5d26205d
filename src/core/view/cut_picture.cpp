#include "core/view/cut_picture.h"

namespace wendrix::view {

namespace {

constexpr std::size_t kMostSurroundings = 40'000; // lines

} // namespace

CutPicture cutPictureOf(const Scene& scene)
{
    CutPicture picture;
    picture.planes = scene.cutPlanes();
    const auto& members = scene.members();
    const auto& looks = scene.looks();
    if (!scene.overlay() || picture.planes.empty()) {
        for (const geometry::Plane& plane : picture.planes)
            picture.faces.push_back(cutFaces(members, scene.colours(), plane));
        return picture;
    }
    const geometry::Plane plane = picture.planes.back();
    picture.planes = {plane};
    std::vector<MemberLook> plain(looks.size());
    for (std::size_t m = 0; m < plain.size(); ++m)
        plain[m].colour = looks[m].colour;
    picture.asDelivered = coloursOf({}, members, plain);
    const auto only = [&](std::uint32_t member) {
        ColourTable own(members.size());
        own[member] = (*picture.asDelivered)[member];
        return cutFaces(members, own, plane);
    };
    const auto [filled, outlined] = *scene.overlay();
    picture.faces.push_back(only(filled));
    picture.outline = only(outlined).outlines;
    ColourTable others = *picture.asDelivered;
    for (std::uint32_t m = 0; m < others.size(); ++m)
        if (m == filled || m == outlined || !looks[m].isShown || looks[m].isOnlyPainted)
            others[m].clear();
    auto& lines = picture.surroundings;
    lines = cutFaces(members, others, plane).outlines;
    if (lines.size() > kMostSurroundings) { // of the longest there is most to see
        const auto isLonger = [](const auto& a, const auto& b) { return length(a[1] - a[0]) > length(b[1] - b[0]); };
        std::nth_element(lines.begin(), lines.begin() + kMostSurroundings, lines.end(), isLonger);
        lines.resize(kMostSurroundings);
    }
    return picture;
}

} // namespace wendrix::view
