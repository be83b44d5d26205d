#pragma once

/// How pages look that are written for people who have no Wendrix.
namespace wendrix::project {

inline constexpr const char* kPageStyle =
    "body{font-family:'Public Sans',sans-serif;color:#1F2B30;max-width:60em;margin:2em auto;padding:0 1em}"
    "h1{color:#173F46}h2{border-top:1px solid #DAD4C6;padding-top:12px}table{border-collapse:collapse;font-size:90%}"
    "td,th{border:1px solid #DAD4C6;padding:3px 8px;text-align:left}p{color:#3C484D}img{max-width:100%}";

} // namespace wendrix::project
