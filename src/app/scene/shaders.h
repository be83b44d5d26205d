#pragma once

/// GLSL 3.30. Positions come relative to the eye, so that floats suffice anywhere on earth.
namespace wendrix::app::shaders {

inline constexpr const char* kVersion = "#version 330 core\n";

/// Shared by faces and edges: the place of a vertex through its instance, the cuts, the element's colour and whether
/// this pass draws it. With CUTS defined they are cut, which costs for each vertex even where nothing is.
inline constexpr const char* kCommonVertex = R"(
layout(location=0) in vec3 position;
layout(location=1) in vec3 normal;
layout(location=2) in float element;
layout(location=3) in vec4 row0;  // of the instance's map
layout(location=4) in vec4 row1;
layout(location=5) in vec4 row2;
uniform mat4 projection;
uniform mat3 view;
uniform vec3 offset;      // the member's origin less the eye
uniform vec4 cuts[8];     // normal and distance, relative to the eye; what is in front of one is cut away
uniform int cutCount;
uniform samplerBuffer colours;
uniform int pass;         // 0 solid, 1 faded, 2 seen through
#ifdef CUTS
out float gl_ClipDistance[8];
#endif
vec3 placeOf() {
    vec4 p = vec4(position, 1.0);
    return vec3(dot(row0, p), dot(row1, p), dot(row2, p)) + offset;
}
void cut(vec3 place) {
#ifdef CUTS
    for (int i = 0; i < 8; ++i)
        gl_ClipDistance[i] = i < cutCount ? cuts[i].w - dot(cuts[i].xyz, place) : 1.0;
#endif
}
bool isMine(float alpha) {
    return pass == 0 ? alpha >= 0.999 : pass == 1 ? alpha > 0.0 && alpha < 0.2 : alpha >= 0.2 && alpha < 0.999;
}
const vec4 kNowhere = vec4(2.0, 2.0, 2.0, 1.0);
)";

/// How much of the surroundings of a place is there: 1 beside it, 0 where they have faded out or are cut away.
inline constexpr const char* kFocusFragment = R"(
uniform float focusReach;   // metres; 0 where nothing is in focus
uniform vec3 focusLow, focusHigh, focusForward; // the place, relative to the eye
uniform float focusFront, focusFloor, focusCeiling;
uniform int pass;
float presence(vec3 place) {
    if (dot(place, focusForward) < focusFront || place.z > focusCeiling || place.z < focusFloor)
        return 0.0;
    vec2 out_ = max(max(focusLow.xy - place.xy, place.xy - focusHigh.xy), vec2(0.0));
    return 1.0 - smoothstep(0.35 * focusReach, focusReach, length(out_));
}
)";

inline constexpr const char* kFaceVertex = R"(
flat out vec4 colour;
out vec3 n;
out vec3 toEye;
void main() {
    colour = texelFetch(colours, int(element));
    vec3 place = placeOf();
    cut(place);
    // The cofactors turn normals right under any map, stretched or mirrored.
    vec3 a = row0.xyz, b = row1.xyz, c = row2.xyz;
    vec3 turned = vec3(dot(cross(b, c), normal), dot(cross(c, a), normal), dot(cross(a, b), normal));
    n = dot(a, cross(b, c)) < 0.0 ? -turned : turned;
    toEye = -place;
    gl_Position = isMine(colour.a) ? projection * vec4(view * place, 1.0) : kNowhere;
}
)";

inline constexpr const char* kFaceFragment = R"(
flat in vec4 colour;
in vec3 n;
in vec3 toEye;
uniform bool isCutFace;
uniform vec3 forward;      // of a parallel view; else nothing
out vec4 result;
void main() {
    bool isQuiet = pass == 1 && focusReach > 0.0;
    float there = isQuiet ? presence(-toEye) : 1.0;
    if (there < 0.02)
        discard;
    vec3 m = normalize(n);
    vec3 eye = dot(forward, forward) > 0.5 ? -forward : normalize(toEye);
    if (isCutFace) {               // as if it were sawn: flat and a little darker than the clay
        result = vec4(colour.rgb * 0.80, colour.a);
        return;
    }
    if (isQuiet) {                 // a tone between its own and the paper's, light enough to stand back
        float side = 0.78 + 0.22 * abs(m.z) + 0.07 * m.x;
        vec3 tone = mix(vec3(0.90, 0.885, 0.85), vec3(dot(colour.rgb, vec3(0.3, 0.55, 0.15))), 0.16);
        result = vec4(mix(tone, colour.rgb, 0.14) * side * (dot(m, eye) < 0.0 ? 0.86 : 1.0), there);
        return;
    }
    if (dot(m, eye) < 0.0) {       // the inside of an open body
        result = vec4(colour.rgb * 0.62, colour.a);
        return;
    }
    // Matte clay: sky above, warm bounce below, one soft light from the left behind the viewer.
    float sky = 0.5 + 0.5 * m.z;
    float key = max(dot(m, normalize(vec3(-0.45, -0.62, 0.64))), 0.0);
    vec3 light = mix(vec3(0.60, 0.575, 0.55), vec3(0.84, 0.85, 0.86), sky) + key * vec3(0.20, 0.19, 0.17);
    float rim = 1.0 - abs(dot(m, eye));
    result = vec4(colour.rgb * light * (1.0 - 0.10 * rim * rim), colour.a);
}
)";

inline constexpr const char* kEdgeVertex = R"(
uniform float boldness;    // 1 for edges, more for the outlines of cuts
flat out vec4 ink;
out vec3 atPlace;
void main() {
    vec4 colour = texelFetch(colours, int(element));
    vec3 place = placeOf();
    cut(place);
    // Far lines grow faint, or a whole building would turn black.
    float far = clamp(length(place) / 140.0, 0.0, 1.0);
    ink = vec4(mix(vec3(0.122, 0.169, 0.188), colour.rgb, 0.25 / boldness),
               pass == 0 ? mix(0.85, 0.45, far / boldness) : pass == 1 ? mix(0.14, 0.05, far) : 0.6);
    vec4 p = projection * vec4(view * place, 1.0);
    p.z -= 0.00018 * p.w;            // in front of the faces they bound
    atPlace = place;
    gl_Position = isMine(colour.a) ? p : kNowhere;
}
)";

inline constexpr const char* kEdgeFragment = R"(
flat in vec4 ink;
in vec3 atPlace;
out vec4 result;
void main() {
    if (pass == 1 && focusReach > 0.0)
        result = vec4(ink.rgb, 0.26 * presence(atPlace));
    else
        result = ink;
}
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

/// A triangle that covers the window, without any buffer.
inline constexpr const char* kWindowVertex = R"(#version 330 core
out vec2 at;
void main() {
    at = vec2(gl_VertexID == 1 ? 2.0 : 0.0, gl_VertexID == 2 ? 2.0 : 0.0);
    gl_Position = vec4(at * 2.0 - 1.0, 1.0, 1.0);
}
)";

/// The desk the model stands on: paper with a soft shade towards the bottom.
inline constexpr const char* kPaperFragment = R"(#version 330 core
in vec2 at;
out vec4 result;
void main() {
    vec3 paper = mix(vec3(0.922, 0.902, 0.855), vec3(0.965, 0.953, 0.925), at.y);
    vec2 d = at - vec2(0.5);
    result = vec4(paper * (1.0 - 0.05 * dot(d, d)), 1.0);
}
)";

/// Puts the drawn model onto the window: shade where surfaces lie close together, a silhouette where one stands
/// before another. Depth goes along, for what is seen through.
inline constexpr const char* kFinishFragment = R"(#version 330 core
in vec2 at;
uniform sampler2D colour;
uniform sampler2D depth;
uniform mat4 projection;
uniform mat4 unprojection;
uniform vec2 pixel;        // size of one, in texture lengths
uniform float reach;       // metres within which things shade each other
uniform bool isPlain;      // while moving: as it is
out vec4 result;
vec3 placeAt(vec2 p) {
    vec4 v = unprojection * vec4(p * 2.0 - 1.0, texture(depth, p).r * 2.0 - 1.0, 1.0);
    return v.xyz / v.w;
}
void main() {
    float d = texture(depth, at).r;
    vec4 c = texture(colour, at);
    gl_FragDepth = d;
    if (isPlain || d >= 1.0) {
        result = c;
        return;
    }
    vec3 p = placeAt(at);
    vec3 right = placeAt(at + vec2(pixel.x, 0.0)), left = placeAt(at - vec2(pixel.x, 0.0));
    vec3 above = placeAt(at + vec2(0.0, pixel.y)), below = placeAt(at - vec2(0.0, pixel.y));
    // From the side that lies on the same surface.
    vec3 dx = abs(right.z - p.z) < abs(p.z - left.z) ? right - p : p - left;
    vec3 dy = abs(above.z - p.z) < abs(p.z - below.z) ? above - p : p - below;
    vec3 n = normalize(cross(dx, dy));
    float turn = 6.2831853 * fract(52.9829189 * fract(dot(gl_FragCoord.xy, vec2(0.06711056, 0.00583715))));
    float shade = 0.0;
    const int kSamples = 12;
    vec4 e = projection * vec4(p + vec3(reach, 0.0, 0.0), 1.0), o = projection * vec4(p, 1.0);
    float radius = clamp(abs(e.x / e.w - o.x / o.w) * 0.5, 2.0 * pixel.x, 0.12);
    for (int i = 0; i < kSamples; ++i) {
        float r = radius * sqrt((float(i) + 0.5) / float(kSamples)), a = turn + 2.399963 * float(i);
        vec2 q = at + r * vec2(cos(a), sin(a) * pixel.y / pixel.x);
        vec3 v = placeAt(q) - p;
        float l = length(v);
        shade += max(0.0, dot(v, n) / max(l, 1e-4) - 0.15) * (1.0 - smoothstep(0.5 * reach, 1.6 * reach, l));
    }
    float open = clamp(1.0 - 1.25 * shade / float(kSamples), 0.0, 1.0);
    // A step in depth that the surface itself does not make.
    float step = max(max(abs(dot(right - p, n)), abs(dot(left - p, n))), max(abs(dot(above - p, n)), abs(dot(below - p, n))));
    float line = p.z > -1e6 ? smoothstep(0.012, 0.03, step / max(length(p), 1.0)) : 0.0;
    result = vec4(mix(c.rgb * mix(0.55, 1.0, open), vec3(0.122, 0.169, 0.188), 0.55 * line), 1.0);
}
)";

inline constexpr const char* kShadowFragment = R"(#version 330 core
in vec2 at;
uniform sampler2D shadow;
out vec4 result;
void main() { result = vec4(0.20, 0.18, 0.14, 0.34 * texture(shadow, at).r); }
)";

/// A picture that stands in the model.
inline constexpr const char* kStandingFragment = R"(#version 330 core
in vec2 at;
uniform sampler2D shadow;
out vec4 result;
void main() {
    result = texture(shadow, at);
    if (result.a < 0.02)
        discard;
}
)";

inline constexpr const char* kShadowVertex = R"(#version 330 core
layout(location=0) in vec3 position;
layout(location=1) in vec4 tint; // its place in the texture
uniform mat4 projection;
uniform mat3 view;
out vec2 at;
void main() { at = tint.xy; gl_Position = projection * vec4(view * position, 1.0); }
)";

} // namespace wendrix::app::shaders
