#pragma once

#include "core/view/colours.h"
#include "support/ifc_text.h"

/// A room's worth of bodies with sizes one can work out, as one member.
namespace wendrix::test {

/// Elements in this order, all in metres:
/// 0 "Floor", slab 10 x 8 x 0.3 under z = 0, its middle at the origin, with a shaft of 1.2 x 0.8 about (3, 2);
/// 1 "Wall", 6 x 3 with a doorway of 1.2 x 2.1 from its foot's middle, on y = 2 to 2.2 (facing -y at 2);
/// 2 "Pipe", radius 0.1 along x at (-2..3, 0, 2);
/// 3 "Crate", a block of 1 x 1 x 1 about (-3, -2), standing on the floor;
/// 4 "Crate", another about (-1, -2).
class SmallScene {
public:
    SmallScene();
    std::vector<federation::Member> members;
    std::vector<view::MemberLook> looks{1};
    /// Of everything as it is; the scene's, so that what only refers to them may be kept.
    [[nodiscard]] const view::ColourTable& colours() const { return colours_ = view::coloursOf({}, members, looks); }

    static constexpr view::ElementKey kFloor{0, 0}, kWall{0, 1}, kPipe{0, 2}, kCrate{0, 3}, kOtherCrate{0, 4};

private:
    std::unique_ptr<Read> read_;
    mutable view::ColourTable colours_;
};

} // namespace wendrix::test
