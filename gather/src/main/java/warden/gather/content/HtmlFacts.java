package warden.gather.content;

import java.util.List;
import java.util.Map;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;
import org.jsoup.parser.Parser;

/** Finds what a page refers to. Source: HTML Living Standard, "Attributes" index: those whose value is a URL. */
final class HtmlFacts {
    /** By element: the attributes that load a part of the page. */
    private static final Map<String, List<String>> PARTS = Map.ofEntries(
            Map.entry("script", List.of("src")),
            Map.entry("img", List.of("src", "srcset")),
            Map.entry("source", List.of("src", "srcset")),
            Map.entry("video", List.of("src", "poster")),
            Map.entry("audio", List.of("src")),
            Map.entry("track", List.of("src")),
            Map.entry("iframe", List.of("src")),
            Map.entry("embed", List.of("src")),
            Map.entry("object", List.of("data")),
            Map.entry("input", List.of("src")),
            Map.entry("image", List.of("href", "xlink:href")),
            Map.entry("use", List.of("href", "xlink:href")));

    private HtmlFacts() {}

    static void collect(String text, Facts facts) {
        Parser parser = Parser.htmlParser().setTrackPosition(true);
        Document page = parser.parseInput(text, "");
        Element base = page.selectFirst("base[href]");
        String begin = base == null ? "" : base.attr("href");
        for (Element element : page.getAllElements()) {
            element(element, facts, begin);
        }
    }

    private static void element(Element element, Facts facts, String base) {
        String name = element.normalName();
        int line = Math.max(1, element.sourceRange().start().lineNumber());
        switch (name) {
            case "a", "area" -> reference(element, "href", line, false, facts, base);
            case "link" -> link(element, line, facts, base);
            case "meta" -> refresh(element, line, facts, base);
            case "style" -> CssFacts.collect(element.data(), facts, line, base);
            default ->
                PARTS.getOrDefault(name, List.of()).forEach(attribute -> {
                    if (attribute.equals("srcset")) {
                        sources(element, line, facts, base);
                    } else {
                        reference(element, attribute, line, true, facts, base);
                    }
                });
        }
    }

    private static void reference(
            Element element, String attribute, int line, boolean isPart, Facts facts, String base) {
        if (element.hasAttr(attribute)) {
            facts.reference(element.attr(attribute), line, isPart, base);
        }
    }

    private static void link(Element element, int line, Facts facts, String base) {
        List<String> relations =
                List.of(element.attr("rel").toLowerCase(java.util.Locale.ROOT).split("\\s+"));
        boolean hint = relations.contains("preconnect") || relations.contains("dns-prefetch");
        boolean part = relations.contains("stylesheet")
                || relations.contains("icon")
                || relations.contains("preload")
                || relations.contains("modulepreload")
                || relations.contains("manifest");
        if (!hint) {
            reference(element, "href", line, part, facts, base);
        }
    }

    private static void refresh(Element element, int line, Facts facts, String base) {
        String content = element.attr("content");
        int at = content.toLowerCase(java.util.Locale.ROOT).indexOf("url=");
        if (element.attr("http-equiv").equalsIgnoreCase("refresh") && at >= 0) {
            facts.reference(content.substring(at + 4).replaceAll("^['\"]|['\"]$", ""), line, false, base);
        }
    }

    /** Candidates are separated by commas that a blank follows or a descriptor precedes; addresses may hold commas themselves. */
    private static void sources(Element element, int line, Facts facts, String base) {
        for (String candidate : element.attr("srcset").split(",\\s+")) {
            facts.reference(candidate.strip().split("\\s+")[0], line, true, base);
        }
    }
}
