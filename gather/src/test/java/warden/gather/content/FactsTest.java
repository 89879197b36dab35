package warden.gather.content;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.content.PublishedFile.Reference;

/** Where addresses in files lead. Source: RFC 3986, section 5.2, "Relative Resolution". */
class FactsTest {
    private static List<String> targets(String file, String address) {
        Facts facts = new Facts(file);
        facts.reference(address, 1, false, "");
        return facts.references().stream().map(Reference::target).toList();
    }

    @ParameterizedTest
    @CsvSource({
        "a/b.html, c.html, a/c.html",
        "a/b.html, /c.html, c.html",
        "a/b.html, ../c.html, c.html",
        "a/b.html, ../../../c.html, c.html",
        "a/b.html, ./, a/",
        "a/b.html, '..', ''",
        "a/b/c.html, '..', a/",
        "a/b.html, c//d.html, a/c/d.html",
        "a/b.html, c.html?at=1:2#x, a/c.html",
        "a/b.html, c%20d.html, a/c d.html",
        "a/b.html, c+d.html, a/c+d.html",
        "a/b.html, notes.., a/notes..",
        "a/b.html, .well-known/x, a/.well-known/x",
        "a/b.html, c/3:4.html, a/c/3:4.html",
        "a/b.html, 7:15.html, a/7:15.html",
        "b.html, '  c.html ', c.html",
    })
    void leadsToAFile(String file, String address, String target) {
        assertThat(targets(file, address)).containsExactly(target);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "#top",
                "?page=2",
                "//other.example/a",
                "https://other.example/a",
                "MAILTO:a@b.example",
                "web+ferry:1",
                "x.y-z:1",
                "{{ page }}.html",
                "a/<%= name %>",
                "a?b={id}",
                "${root}/a.css",
                "bad%zz.html"
            })
    void leadsToNoFile(String address) {
        assertThat(targets("a/b.html", address)).isEmpty();
    }

    @Test
    void agreesWithTheStandardLibrary() {
        String[] parts = {"a", "b.c", ".", "..", "d..", ".e", "f%20g", "h-i_j", "..k"};
        Random random = new Random(3);
        for (int round = 0; round < 5_000; round++) {
            StringBuilder address = new StringBuilder(random.nextInt(4) == 0 ? "/" : "");
            for (int i = random.nextInt(5); i >= 0; i--) {
                address.append(parts[random.nextInt(parts.length)]).append(i > 0 || random.nextInt(4) == 0 ? "/" : "");
            }
            address.append(random.nextInt(5) == 0 ? "?q=/../x" : "").append(random.nextInt(5) == 0 ? "#./y" : "");
            String resolved = URI.create("/one/two/page.html")
                    .resolve(address.toString())
                    .normalize()
                    .getRawPath();
            String inRoot = resolved.replaceFirst("^(/\\.\\.)+(?=/|$)", "");
            String expected = URLDecoder.decode(inRoot.replaceFirst("^/", ""), StandardCharsets.UTF_8);
            assertThat(targets("one/two/page.html", address.toString()))
                    .as(address.toString())
                    .containsExactly(expected);
        }
    }

    @ParameterizedTest
    @CsvSource({
        "http://images.example/a.png, true",
        "HTTP://images.example/a.png, true",
        "http://localhost:3000/a.png, false",
        "HTTP://LocalHost/a.png, false",
        "http://localhost.example/a.png, true",
        "https://images.example/a.png, false",
        "httpx://images.example/a.png, false",
    })
    void tellsPartsThatComeInPlainHttp(String address, boolean isPlain) {
        Facts facts = new Facts("a.html");
        facts.reference(address, 3, true, "");
        assertThat(facts.plainParts().size()).isEqualTo(isPlain ? 1 : 0);
        Facts link = new Facts("a.html");
        link.reference(address, 3, false, "");
        assertThat(link.plainParts()).isEmpty();
    }
}
