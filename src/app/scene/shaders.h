#pragma once

/// GLSL 3.30. Positions come relative to the eye, so that floats suffice anywhere on earth.
namespace wendrix::app::shaders {

inline constexpr const char* kFaceVertex = R"(#version 330 core
layout(location=0) in vec3 position;
layout(location=1) in vec3 normal;
layout(location=2) in float element;
uniform mat4 projection;
uniform mat3 view;
uniform vec3 offset;      // the member's origin less the eye
uniform vec2 heights;     // shown between these, relative to the eye
uniform samplerBuffer colours;
uniform int pass;         // 0 solid, 1 faded, 2 seen through
flat out vec4 colour;
out vec3 n;
out vec3 toEye;
out float gl_ClipDistance[2];
void main() {
    colour = texelFetch(colours, int(element));
    vec3 place = position + offset;
    gl_ClipDistance[0] = place.z - heights.x;
    gl_ClipDistance[1] = heights.y - place.z;
    n = normal;
    toEye = -place;
    bool mine = pass == 0 ? colour.a >= 1.0 : pass == 1 ? colour.a > 0.0 && colour.a < 0.2 : colour.a >= 0.2 && colour.a < 1.0;
    gl_Position = mine ? projection * vec4(view * place, 1.0) : vec4(2.0, 2.0, 2.0, 1.0);
}
)";

inline constexpr const char* kFaceFragment = R"(#version 330 core
flat in vec4 colour;
in vec3 n;
in vec3 toEye;
uniform int pass;
out vec4 result;
void main() {
    vec3 m = normalize(n);
    if (!gl_FrontFacing) {           // the inside of a cut body: flat, as if it were filled
        result = vec4(colour.rgb * 0.72, colour.a);
        return;
    }
    // Matte clay: sky above, warm bounce below, one soft light from the left behind the viewer.
    float sky = 0.5 + 0.5 * m.z;
    float key = max(dot(m, normalize(vec3(-0.45, -0.62, 0.64))), 0.0);
    vec3 light = mix(vec3(0.60, 0.575, 0.55), vec3(0.84, 0.85, 0.86), sky) + key * vec3(0.20, 0.19, 0.17);
    float rim = 1.0 - abs(dot(m, normalize(toEye)));
    result = vec4(colour.rgb * light * (1.0 - 0.10 * rim * rim), colour.a);
}
)";

inline constexpr const char* kEdgeVertex = R"(#version 330 core
layout(location=0) in vec3 position;
layout(location=2) in float element;
uniform mat4 projection;
uniform mat3 view;
uniform vec3 offset;
uniform vec2 heights;
uniform samplerBuffer colours;
uniform int pass;
out float gl_ClipDistance[2];
flat out vec4 ink;
void main() {
    vec4 colour = texelFetch(colours, int(element));
    vec3 place = position + offset;
    gl_ClipDistance[0] = place.z - heights.x;
    gl_ClipDistance[1] = heights.y - place.z;
    bool mine = pass == 0 ? colour.a >= 1.0 : pass == 1 ? colour.a > 0.0 && colour.a < 0.2 : colour.a >= 0.2 && colour.a < 1.0;
    // Far lines grow faint, or a whole building would turn black.
    float far = clamp(length(place) / 140.0, 0.0, 1.0);
    ink = vec4(mix(vec3(0.122, 0.169, 0.188), colour.rgb, 0.25), pass == 0 ? mix(0.85, 0.45, far) : pass == 1 ? mix(0.14, 0.05, far) : 0.6);
    vec4 p = projection * vec4(view * place, 1.0);
    p.z -= 0.00018 * p.w;            // in front of the faces they bound
    gl_Position = mine ? p : vec4(2.0, 2.0, 2.0, 1.0);
}
)";

inline constexpr const char* kEdgeFragment = R"(#version 330 core
flat in vec4 ink;
out vec4 result;
void main() { result = ink; }
)";

inline constexpr const char* kLineVertex = R"(#version 330 core
layout(location=0) in vec3 position;
layout(location=1) in vec4 tint;
uniform mat4 projection;
uniform mat3 view;
out vec4 ink;
void main() { ink = tint; gl_Position = projection * vec4(view * position, 1.0); }
)";

inline constexpr const char* kLineFragment = R"(#version 330 core
in vec4 ink;
out vec4 result;
void main() { result = ink; }
)";

} // namespace wendrix::app::shaders
