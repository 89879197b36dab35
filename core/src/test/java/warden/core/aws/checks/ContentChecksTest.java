package warden.core.aws.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static warden.core.fixture.Audited.check;
import static warden.core.fixture.HealthySites.BUCKET_ARN;
import static warden.core.fixture.HealthySites.sealed;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.core.audit.Severity;
import warden.core.content.PublishedFile;
import warden.core.content.PublishedFile.Reference;
import warden.core.content.PublishedFile.Spot;
import warden.core.content.PublishedFolder;
import warden.core.fixture.SurveyBuilder;

class ContentChecksTest {
    private static PublishedFile file(String path, long size) {
        List<Spot> secrets =
                path.equals("keys/server.pem") ? List.of(new Spot(1, "-----BEGIN****", "a private key")) : List.of();
        return new PublishedFile(path, size, size, true, secrets, List.of(), List.of(), List.of());
    }

    private static PublishedFile page(
            String path, List<Spot> secrets, List<Spot> templates, List<Reference> references, List<Spot> plain) {
        return new PublishedFile(path, 900, 300, true, secrets, templates, references, plain);
    }

    private static PublishedFolder folder(PublishedFile... files) {
        return PublishedFolder.of("dist", List.of(files), Map.of());
    }

    private static PublishedFolder names(String... paths) {
        List<PublishedFile> files = new ArrayList<>();
        for (String path : paths) {
            files.add(file(path, 900));
        }
        return folder(files.toArray(new PublishedFile[0]));
    }

    private static SurveyBuilder stored(String... keys) {
        return sealed().bucket("heron-www", bucket -> bucket.objects(keys));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "content-secret",
                "content-private-files",
                "content-source-maps",
                "content-template-text",
                "content-archive-only",
                "content-index-nested",
                "content-broken-link",
                "content-mixed",
                "content-wrong-type",
                "content-cache-policy",
                "content-heavy"
            })
    void isSilentOnAHealthyFolderAndSite(String id) {
        check(id, sealed(), names("index.html", "404.html", "assets/app.3f9c2b1a.js", ".well-known/security.txt"))
                .isSilent();
    }

    @ParameterizedTest
    @ValueSource(strings = {"content-secret", "content-template-text", "content-broken-link", "content-mixed"})
    void asksNothingWithoutAFolder(String id) {
        check(id, sealed()).doesNotApply();
    }

    @ParameterizedTest
    @ValueSource(strings = {"content-secret", "content-template-text", "content-broken-link"})
    void isUnknownAboutFilesThatCannotBeRead(String id) {
        PublishedFolder partly =
                PublishedFolder.of("dist", List.of(file("index.html", 9)), Map.of("locked.js", "it cannot be read"));
        check(id, sealed(), partly).isUnknownFor("published-file");
    }

    private static void flags(String id, PublishedFolder folder, Severity severity, String subject, String says) {
        assertThat(check(id, sealed(), folder).findings())
                .as(id)
                .singleElement()
                .satisfies(finding -> {
                    assertThat(finding.severity()).isEqualTo(severity);
                    assertThat(finding.subject()).isEqualTo(subject);
                    assertThat(finding.says()).contains(says);
                    assertThat(finding.because().get(0).file()).isEqualTo("dist/" + subject);
                });
    }

    @Test
    void secretsTemplatesAndPlainParts() {
        List<Spot> none = List.of();
        Spot spot = new Spot(7, "key = ****", "an access key of the provider");
        flags(
                "content-secret",
                folder(page("app.js", List.of(spot), none, List.of(), none)),
                Severity.CRITICAL,
                "app.js",
                "line 7, holds an access key");
        flags(
                "content-template-text",
                folder(page("app.js", none, List.of(spot, spot), List.of(), none)),
                Severity.MEDIUM,
                "app.js",
                "and 1 more");
        flags(
                "content-mixed",
                folder(page("index.html", none, none, List.of(), List.of(spot))),
                Severity.MEDIUM,
                "index.html",
                "over plain HTTP");
    }

    @ParameterizedTest
    @CsvSource({
        "a.css,          true",
        "fares,          true",
        "islands/,       true",
        "islands,        true",
        "'',             true",
        "missing.css,    false",
        "ferries/,       false",
        "islands/map,    false",
    })
    void brokenLink(String target, boolean leads) {
        PublishedFile index =
                page("index.html", List.of(), List.of(), List.of(new Reference(3, target, target, true)), List.of());
        PublishedFolder folder = folder(index, file("a.css", 1), file("fares.html", 1), file("islands/index.html", 1));
        if (leads) {
            check("content-broken-link", sealed(), folder).isSilent();
        } else {
            flags("content-broken-link", folder, Severity.MEDIUM, "index.html", "which does not exist");
        }
    }

    @ParameterizedTest
    @CsvSource({
        ".git/config,            true",
        "sub/.git/HEAD,          true",
        ".env,                   true",
        ".env.production,        true",
        ".env.example,           false",
        "node_modules/x/y.js,    true",
        "infra/site.tfstate,     true",
        ".vscode/settings.json,  true",
        ".well-known/acme,       false",
        "environment.html,       false",
        "git/index.html,         false",
        "keys/server.pem,        true",
        "keys/public.pem,        false",
        "tls/fullchain.pem,      false",
    })
    void privateFiles(String path, boolean isPrivate) {
        if (isPrivate) {
            flags("content-private-files", names("index.html", path), Severity.HIGH, path, "would be published");
            check("content-private-files", stored("index.html", path))
                    .flags(Severity.HIGH, BUCKET_ARN + "/" + path, "stored among the pages");
        } else {
            check("content-private-files", sealed(), names("index.html", path)).isSilent();
            check("content-private-files", stored("index.html", path)).isSilent();
        }
    }

    @Test
    void namesOfManyPrivateFilesAreSaidOnce() {
        flags(
                "content-private-files",
                names("index.html", ".git/a", ".git/b", ".git/c"),
                Severity.HIGH,
                ".git/a",
                "3 files of .git");
    }

    @Test
    void sourceMapsArchivesAndNestedIndexes() {
        flags("content-source-maps", names("index.html", "app.js.map"), Severity.LOW, "app.js.map", "app.js.map");
        check("content-source-maps", stored("index.html", "a.js.map", "b.css.map"))
                .flags(Severity.LOW, BUCKET_ARN + "/a.js.map", "2 source maps");
        check("content-source-maps", sealed(), names("index.html", "ferries.map"))
                .isSilent();
        flags("content-archive-only", names("site.zip", "readme.txt"), Severity.HIGH, "site.zip", "no index document");
        check("content-archive-only", stored("site.tar.gz"))
                .flags(Severity.HIGH, BUCKET_ARN + "/site.tar.gz", "The archive site.tar.gz is stored");
        check("content-archive-only", sealed(), names("index.html", "timetable.zip"))
                .isSilent();
        flags(
                "content-index-nested",
                names("dist/index.html", "dist/b/index.html"),
                Severity.HIGH,
                "dist/index.html",
                "there is one at dist/index.html");
        check("content-index-nested", sealed(), names("readme.txt")).isSilent();
    }

    @Test
    void wrongType() {
        check(
                        "content-wrong-type",
                        sealed().found("object", BUCKET_ARN + "/index.html", "{'ContentType':'binary/octet-stream'}"))
                .flags(Severity.HIGH, BUCKET_ARN + "/index.html", "do not show as a page");
        check("content-wrong-type", sealed().found("object", BUCKET_ARN + "/a.css", "{'ContentType':'text/plain'}"))
                .flags(Severity.HIGH, BUCKET_ARN + "/a.css", "do not take for what it is");
        check(
                        "content-wrong-type",
                        sealed().found(
                                        "object",
                                        BUCKET_ARN + "/a.js",
                                        "{'ContentType':'TEXT/javascript; charset=utf-8'}"))
                .isSilent();
        check("content-wrong-type", sealed().found("object", BUCKET_ARN + "/a.js", "{}"))
                .isSilent();
    }

    @ParameterizedTest
    @CsvSource({
        "assets/app.3f9c2b1a.js,  'max-age=300',               seconds only",
        "assets/app.3f9c2b1a.js,  'public, max-age=31536000',  ''",
        "assets/app-BXk29dQz.css, 'no-cache',                  seconds only",
        "assets/application.js,   'max-age=300',               ''",
        "fares.html,              'max-age=86400',             keep the page",
        "fares.html,              'no-cache',                  ''",
        "fares.html,              'max-age=600',               ''",
    })
    void cachePolicy(String key, String control, String says) {
        SurveyBuilder survey = sealed().found("object", BUCKET_ARN + "/" + key, "{'CacheControl':'" + control + "'}");
        if (says.isEmpty()) {
            check("content-cache-policy", survey).isSilent();
        } else {
            check("content-cache-policy", survey).flags(Severity.LOW, BUCKET_ARN + "/" + key, says);
        }
    }

    @Test
    void heavy() {
        flags(
                "content-heavy",
                folder(file("index.html", 9), file("map.png", 8_100_000)),
                Severity.LOW,
                "map.png",
                "8.1 MB");
        check("content-heavy", sealed(), folder(file("index.html", 9), file("film.mp4", 80_000_000)))
                .isSilent();
        PublishedFile index = page(
                "index.html",
                List.of(),
                List.of(),
                List.of(
                        new Reference(1, "a.js", "a.js", true),
                        new Reference(2, "b.js", "b.js", true),
                        new Reference(3, "c.html", "c.html", false)),
                List.of());
        flags(
                "content-heavy",
                folder(index, file("a.js", 2_900_000), file("b.js", 2_900_000)),
                Severity.LOW,
                "index.html",
                "5.8 MB to send");
        check("content-heavy", sealed(), folder(index, file("a.js", 2_900_000), file("c.html", 2_900_000)))
                .isSilent();
        check(
                        "content-heavy",
                        sealed().edit(
                                        "bucket-objects",
                                        BUCKET_ARN,
                                        "{'Key':'404.html'}",
                                        "{'Key':'map.png','Size':9000000}"))
                .flags(Severity.LOW, BUCKET_ARN + "/map.png", "9.0 MB");
    }
}
