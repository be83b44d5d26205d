#pragma once

#include <QWidget>

#include <functional>

namespace wendrix::app {

class SceneView;
class Session;

/// The fields to make a group of members that are switched together; it is kept in the project.
/// @param done  after one was made
[[nodiscard]] QWidget* groupForm(Session& session, const SceneView& scene, std::function<void()> done);

} // namespace wendrix::app
