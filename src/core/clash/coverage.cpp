#include "core/clash/coverage.h"

namespace wendrix::clash {

namespace {

Outcome without(Presence presence)
{
    switch (presence) {
    case Presence::NotMember:
        return Outcome::NotMember;
    case Presence::OffPlace:
        return Outcome::OffPlace;
    case Presence::LeftOut:
        return Outcome::LeftOut;
    case Presence::NotBuilt:
        return Outcome::NotBuilt;
    case Presence::Removed:
        return Outcome::Removed;
    case Presence::Tested:
        break;
    }
    return Outcome::Gone;
}

} // namespace

Outcome outcomeOf(Presence left, Presence right, TestState test)
{
    // Without one of its elements a pair is gone, whatever else was tested.
    if (left == Presence::Removed || right == Presence::Removed)
        return Outcome::Removed;
    if (left != Presence::Tested || right != Presence::Tested)
        return without(left == Presence::Tested    ? right
                       : right == Presence::Tested ? left
                       : left < right              ? left
                                                   : right);
    switch (test) {
    case TestState::Cancelled:
        return Outcome::TestCancelled;
    case TestState::Changed:
        return Outcome::TestChanged;
    case TestState::None:
        return Outcome::NoTest;
    case TestState::Expected:
        return Outcome::Expected;
    case TestState::Run:
        break;
    }
    return Outcome::Gone;
}

std::optional<Outcome> outcomeFrom(int number)
{
    const auto outcome = static_cast<Outcome>(number);
    if (isTested(outcome) || !whyNotTested(outcome).empty())
        return outcome;
    return {};
}

std::string_view whyNotTested(Outcome outcome)
{
    switch (outcome) {
    case Outcome::NotMember:
        return "its member is not in the federation that was tested";
    case Outcome::OffPlace:
        return "its member does not stand right on the reference";
    case Outcome::LeftOut:
        return "its class is left out";
    case Outcome::NotBuilt:
        return "its body could not be built";
    case Outcome::TestCancelled:
        return "the test was cancelled";
    case Outcome::TestChanged:
        return "the test asks for other distances now";
    case Outcome::NoTest:
        return "no test brings these two together any more";
    case Outcome::Found:
    case Outcome::Gone:
    case Outcome::Removed:
    case Outcome::Expected:
        break;
    }
    return {};
}

} // namespace wendrix::clash
