package warden.gather.content;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import warden.core.content.PublishedFile;
import warden.core.content.PublishedFile.Reference;
import warden.core.content.PublishedFolder;

class FolderReaderTest {
    @TempDir
    private Path folder;

    private void put(String path, String text) throws IOException {
        Path file = folder.resolve(path);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private PublishedFolder read() throws IOException {
        return FolderReader.read(folder.toString());
    }

    private List<String> targets(String path) throws IOException {
        return read().file(path).orElseThrow().references().stream()
                .map(reference -> reference.line() + " " + reference.target() + (reference.isPart() ? " part" : ""))
                .toList();
    }

    @Test
    void findsWhatAPageRefersTo() throws IOException {
        put("islands/index.html", """
                <!doctype html>
                <html><head>
                <link rel="stylesheet" href="../a.css?v=2">
                <link rel="preconnect" href="/nowhere">
                <link rel="canonical" href="https://heronferry.example/">
                <script src="/js/app.js"></script>
                <meta http-equiv="refresh" content="5; url=/moved.html">
                <style>body { background: url("bg.png") }</style>
                </head><body>
                <a href="skye/">Skye</a> <a href="#top">top</a> <a href="mailto:a@b.example">mail</a>
                <a href="?page=2">two</a> <a href="{{ url }}">later</a> <a href="//other.example/x">x</a>
                <img src="map%20large.png" srcset="small.png 1x, large.png 2x">
                <img src="http://images.example/a.png"> <a href="http://other.example/">fine</a>
                <svg><use href="icons.svg#ferry"/></svg>
                <a href="./">here</a><a href="..">up</a>
                </body></html>
                """);
        assertThat(targets("islands/index.html"))
                .containsExactly(
                        "3 a.css part",
                        "6 js/app.js part",
                        "7 moved.html",
                        "8 islands/bg.png part",
                        "10 islands/skye/",
                        "12 islands/map large.png part",
                        "12 islands/small.png part",
                        "12 islands/large.png part",
                        "14 islands/icons.svg part",
                        "15 islands/",
                        "15 ");
        assertThat(read().file("islands/index.html").orElseThrow().plainParts())
                .singleElement()
                .satisfies(part -> assertThat(part.quote()).isEqualTo("http://images.example/a.png"));
    }

    @Test
    void findsWhatAStyleSheetRefersTo() throws IOException {
        put("css/a.css", """
                @import "base.css";
                @import url('print.css') print;
                /* url(in-a-comment.png) */
                .a { background: url(../img/a.png) no-repeat; content: "url(in-a-string.png)" }
                @media (min-width: 1px) { .b { background-image: url("data:image/png;base64,AAAA"), url(b.png) } }
                @font-face { font-family: x; src: url(https://fonts.example/x.woff2), url(x.woff) }
                .broken { color: ; } .c { background: url(c.png) }
                """);
        assertThat(targets("css/a.css"))
                .containsExactly(
                        "1 css/base.css part",
                        "2 css/print.css part",
                        "4 img/a.png part",
                        "5 css/b.png part",
                        "6 css/x.woff part",
                        "7 css/c.png part");
    }

    @Test
    void findsWhatNewerAndBrokenStyleSheetsReferTo() throws IOException {
        put("a.css", """
                @layer base { .a { background: url(layer.png) } }
                .a { color: red; & .b { background: url( "nested.png" ) } }
                @container (min-width: 1px) { .c { background: URL(container.png) } }
                .d { --x: { a: url(custom.png) }; background: url(after.png) }
                .f { background: image-set("one.png" 1x, url(two.png) 2x type("image/png")) }
                @namespace svg url(http://www.w3.org/2000/svg);
                .g::before { content: "url(no.png)"; background: url(with\\ blank.png) }
                .h { background: url('es\\63 aped.png'); filter: url(#id) }
                .i { content: "open
                .j { background: url(last.png) }
                @import "late.css
                """);
        assertThat(targets("a.css"))
                .containsExactly(
                        "1 layer.png part",
                        "2 nested.png part",
                        "3 container.png part",
                        "4 custom.png part",
                        "4 after.png part",
                        "5 one.png part",
                        "5 two.png part",
                        "7 with blank.png part",
                        "8 escaped.png part",
                        "10 last.png part",
                        "11 late.css part");
    }

    @Test
    void aBaseMovesWhatIsRelative() throws IOException {
        put("a/index.html", "<base href=\"/site/\"><a href=\"b.html\">b</a><a href=\"/c.html\">c</a>");
        assertThat(targets("a/index.html")).containsExactly("1 site/b.html", "1 c.html");
        put("a/index.html", "<base href=\"https://elsewhere.example/\"><a href=\"b.html\">b</a>");
        assertThat(targets("a/index.html")).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "js,   'const api = \"${API_URL}\";',                   true",
        "js,   'const api = \"__API_KEY__\";',                  true",
        "js,   'const greeting = `Hello ${name}`;',             false",
        "js,   'window.__NEXT_DATA__ = {};',                    false",
        "html, '<p>Call REPLACE_ME for tickets</p>',            true",
        "html, '<title>{{ page.title }}</title>',               true",
        "html, '<div id=\"app\">{{ message }}</div>',           false",
        "html, '<a href=\"https://YOUR_DOMAIN_NAME/\">x</a>',   true",
        "html, '<p>We replace lost tickets. Your name here.</p>', false",
        "json, '{\"bucket\":\"<your-bucket-name>\"}',           true",
        "json, '{\"key\":\"%%BUILD_NUMBER%%\"}',                true",
        "js,   'const a = \"REPLACE_ME_SEED_CATALOGUE_URL\";',  true",
        "js,   'fetch(\"https://__API_HOST__/v1/tides\")',      true",
        "js,   'fetch(__API_URL__ + \"/tides\")',                true",
        "js,   'const a = \"https://%%api_url%%/v1\";',         true",
        "js,   'const a = \"{{api_url}}/v1\";',                 true",
        "html, '<link href=\"%PUBLIC_URL%/icon.ico\">',         true",
        "json, '{\"greeting\":\"Welcome aboard, {{first_name}}\"}', false",
        "js,   'load(window.__API_URL__);',                     false",
        "js,   'load(window[\"__API_URL__\"]);',                false",
        "js,   'var __API_URL__=\"/v1\";load(__API_URL__);',    false",
        "js,   'if (typeof __API_URL__ === \"string\") go();',  false",
        "css,  '.a { background: url(a%20B_C%20.png) }',        false",
        "css,  '.a { width: 100%; }',                           false",
        "md,   'REPLACE_ME',                                    false",
    })
    void findsTemplateText(String extension, String text, boolean found) throws IOException {
        put("a." + extension, "\n" + text + "\n");
        List<PublishedFile.Spot> templates =
                read().file("a." + extension).orElseThrow().templates();
        assertThat(templates).hasSize(found ? 1 : 0).allMatch(spot -> spot.line() == 2);
    }

    @Test
    void masksSecrets() throws IOException {
        String key = "AKIA" + "Q7HERONBOOK0TEST";
        put("app.js", "// first\nconst k = '" + key + "';\n");
        assertThat(read().file("app.js").orElseThrow().secrets())
                .singleElement()
                .satisfies(secret -> {
                    assertThat(secret.line()).isEqualTo(2);
                    assertThat(secret.quote()).contains("AKIA****").doesNotContain(key);
                });
    }

    @Test
    void doesNotLeaveTheFolderAndSaysWhatItDidNotRead() throws IOException {
        Path outside = Files.createTempFile("outside", ".html");
        Files.writeString(outside, "secret");
        put("index.html", "<p>x</p>");
        Files.createSymbolicLink(folder.resolve("link.html"), outside);
        Files.createSymbolicLink(folder.resolve("up"), folder.getParent());
        PublishedFolder read = read();
        assertThat(read.files()).containsOnlyKeys("index.html");
        assertThat(read.unread())
                .containsEntry("link.html", "it is a symbolic link, which is not followed")
                .containsKey("up");
        Files.delete(outside);
    }

    @Test
    void takesOtherEncodingsAndBinaries() throws IOException {
        Files.write(folder.resolve("latin.html"), "<a href=\"f\u00e4hre.html\">".getBytes(StandardCharsets.ISO_8859_1));
        Files.write(folder.resolve("data.bin"), new byte[] {1, 0, 2});
        Files.write(folder.resolve("empty.js"), new byte[0]);
        PublishedFolder read = read();
        assertThat(read.file("latin.html").orElseThrow().references())
                .extracting(Reference::target)
                .containsExactly("f\u00e4hre.html");
        assertThat(read.file("data.bin").orElseThrow().isRead()).isFalse();
        assertThat(read.file("empty.js").orElseThrow().size()).isZero();
    }

    @Test
    void saysThatThereIsNoSuchFolder() {
        assertThatThrownBy(() -> FolderReader.read("nowhere")).hasMessageContaining("nowhere: there is no such folder");
    }
}
