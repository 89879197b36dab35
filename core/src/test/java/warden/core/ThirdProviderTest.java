package warden.core;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import warden.core.access.Matrix;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.CheckCard;
import warden.core.audit.EachCheck;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.checks.HostingCards;
import warden.core.cloud.Changes;
import warden.core.cloud.Cloud;
import warden.core.cloud.Clouds;
import warden.core.cloud.Deployments;
import warden.core.cloud.Following;
import warden.core.cloud.ObjectStore;
import warden.core.cloud.Publishing;
import warden.core.mend.Mender;
import warden.core.mend.Proposal;
import warden.core.names.Zone;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Pipeline;
import warden.core.provider.Provider;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SiteFile;
import warden.core.site.SitePattern;
import warden.core.survey.Aspects;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;
import warden.core.survey.SurveyedAccount;
import warden.core.trim.Trimming;

/** A provider that nobody knows is put beside the others by naming it in one list. */
class ThirdProviderTest {
    private static final Instant NOW = Instant.parse("2026-11-24T00:00:00Z");

    private record Shelf(Survey survey) implements SurveyedAccount {
        @Override
        public String number() {
            return survey.header().account();
        }
    }

    private record ShelfSite(Shelf account) implements Site {
        @Override
        public String name() {
            return "shelf.example";
        }

        @Override
        public Optional<SitePattern> found() {
            return Optional.of(SitePattern.OPEN_BUCKET);
        }

        @Override
        public Optional<SiteFile.StatedSite> stated() {
            return Optional.empty();
        }

        @Override
        public List<String> hosts() {
            return List.of("shelf.example");
        }

        @Override
        public List<String> storeIds() {
            return List.of("shelf:1");
        }

        @Override
        public List<String> edgeIds() {
            return List.of();
        }

        @Override
        public List<String> unreadEdgeIds() {
            return List.of();
        }

        @Override
        public boolean isMeantSealed() {
            return false;
        }
    }

    /** Finds every shelf wanting. */
    private static final class IndexMissing implements EachCheck<IndexMissing.Of> {
        private record Of(ShelfSite site) implements Judged {
            @Override
            public Verdict unknown(List<Need> needs) {
                return new Verdict.Unknown("shelf:1", Optional.of(site.name()), needs);
            }
        }

        @Override
        public CheckCard card() {
            return HostingCards.INDEX_MISSING;
        }

        @Override
        public List<Of> subjects(AuditContext context) {
            return context.clouds().stream()
                    .flatMap(cloud -> cloud.sites().stream())
                    .filter(ShelfSite.class::isInstance)
                    .map(site -> new Of((ShelfSite) site))
                    .toList();
        }

        @Override
        public List<Verdict> unread(AuditContext context) {
            return List.of();
        }

        @Override
        public List<Verdict> examine(Of subject) {
            Survey survey = subject.site().account().survey();
            return List.of(new Verdict.Flagged(Finding.of(
                    card(),
                    "shelf:1",
                    Optional.of(subject.site().name()),
                    "There is no index on the shelf.",
                    List.of(survey.reading("shelf", "1").citation().orElseThrow()))));
        }
    }

    private record ShelfCloud(List<Shelf> accounts) implements Cloud {
        @Override
        public List<ShelfSite> sites() {
            return accounts.stream().map(ShelfSite::new).toList();
        }

        @Override
        public Optional<Shelf> accountOf(String subject) {
            return subject.startsWith("shelf:") ? accounts.stream().findFirst() : Optional.empty();
        }

        @Override
        public List<String> oddities() {
            return List.of();
        }

        @Override
        public boolean spells(String subject) {
            return subject.startsWith("shelf:");
        }

        @Override
        public Optional<String> shortName(String subject) {
            return Optional.empty();
        }

        @Override
        public Optional<String> statedName(String store) {
            return Optional.empty();
        }

        @Override
        public Map<String, String> hostsOfParts() {
            return Map.of();
        }

        @Override
        public boolean isStore(String subject) {
            return spells(subject);
        }

        @Override
        public boolean isBeside(Need need, List<? extends Site> sites) {
            return false;
        }

        @Override
        public List<Need> unreadPrincipals() {
            return List.of();
        }

        @Override
        public List<UnreadStore> unreadStores() {
            return List.of();
        }

        @Override
        public List<SiteStore> siteStores() {
            return List.of();
        }

        @Override
        public Set<String> closedStores() {
            return Set.of();
        }

        @Override
        public Set<String> sharedSecrets() {
            return Set.of();
        }

        @Override
        public Publishing publishing(List<Pipeline> pipelines) {
            return new Publishing() {
                @Override
                public List<Publisher> publishers() {
                    return List.of();
                }

                @Override
                public List<UnreadCredential> unreadCredentials() {
                    return List.of();
                }

                @Override
                public Deployments deployments() {
                    return new ShelfDeployments(pipelines);
                }

                @Override
                public Set<String> repositoryOwners() {
                    return Set.of();
                }

                @Override
                public boolean concernsAll(SurveyedAccount account, String subject) {
                    return false;
                }
            };
        }

        @Override
        public List<Trimming> trim(List<Pipeline> pipelines, Optional<String> credential, List<Site> sites) {
            return List.of();
        }

        @Override
        public List<Matrix> matrices(List<? extends Publisher> publishers, Predicate<String> wanted) {
            return List.of();
        }

        @Override
        public UnaryOperator<String> questions(boolean explains) {
            return line -> "{}";
        }

        @Override
        public boolean isAsked(String question) {
            return question.contains("shelf:");
        }

        @Override
        public boolean answersFor(String host) {
            return host.equals("shelf.example");
        }

        @Override
        public boolean isOwnAddress(String host) {
            return answersFor(host);
        }

        @Override
        public Optional<Need> unknownHost(String host) {
            return Optional.empty();
        }

        @Override
        public Following following(boolean triesRemedies) {
            throw new UnsupportedOperationException("nobody visits a shelf");
        }

        @Override
        public Changes since(Cloud old, Set<String> publishers) {
            return new Changes(List.of(), List.of(), List.of(), List.of(), Map.of());
        }
    }

    private record ShelfDeployments(List<Pipeline> pipelines) implements Deployments {
        @Override
        public List<Site> sitesOf(Pipeline pipeline) {
            return List.of();
        }

        @Override
        public String provider() {
            return "shelf";
        }

        @Override
        public Optional<ObjectStore> storeOf(Pipeline pipeline, DeploymentStep step) {
            return Optional.empty();
        }

        @Override
        public List<Need> openStores(Pipeline pipeline, Predicate<DeploymentStep> steps) {
            return List.of();
        }

        @Override
        public List<UnreadPipeline> unread() {
            return List.of();
        }
    }

    private static final class ShelfProvider implements Provider {
        @Override
        public String name() {
            return "shelf";
        }

        @Override
        public Aspects aspects() {
            return new Aspects() {
                @Override
                public String permission(String aspect) {
                    return "look";
                }

                @Override
                public String permission(SurveyLine line) {
                    return "look";
                }

                @Override
                public boolean meansAbsent(String aspect, String code) {
                    return code.equals("none");
                }

                @Override
                public boolean saysMoreFollows(SurveyLine line) {
                    return false;
                }

                @Override
                public List<String> permissions() {
                    return List.of("look");
                }

                @Override
                public boolean isPermission(String permission) {
                    return permission.equals("look");
                }

                @Override
                public String grant(Collection<String> permissions) {
                    return String.join(" ", permissions);
                }
            };
        }

        @Override
        public Shelf account(Survey survey) {
            return new Shelf(survey);
        }

        @Override
        public List<Zone> zones(SurveyedAccount account) {
            return List.of();
        }

        @Override
        public Cloud open(
                List<? extends SurveyedAccount> accounts, List<Zone> otherZones, SiteFile file, Optional<Instant> at) {
            return new ShelfCloud(accounts.stream().map(Shelf.class::cast).toList());
        }

        @Override
        public List<Check> checks() {
            return List.of(new IndexMissing());
        }

        @Override
        public Mender mender() {
            return (context, finding) -> Proposal.byHand("nothing is known of shelves", finding.remedy());
        }
    }

    private static Survey survey(Provider provider) {
        String text = "{\"survey\":1,\"provider\":\"" + provider.name() + "\",\"account\":\"7\"}\n"
                + "{\"aspect\":\"shelf\",\"of\":\"1\",\"call\":\"look\",\"found\":{}}\n";
        Survey.Collector collector = new Survey.Collector(provider.aspects());
        try {
            SurveyHeader header = SurveyReader.read(
                    new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), "s.ndjson", collector::add);
            return collector.toSurvey(header);
        } catch (SurveyException | IOException broken) {
            throw new IllegalStateException(broken);
        }
    }

    @Test
    void isAuditedBesideTheOthers() {
        Provider shelf = new ShelfProvider();
        List<Provider> providers =
                Stream.concat(Providers.ALL.stream(), Stream.of(shelf)).toList();
        List<Survey> surveys = providers.stream().map(ThirdProviderTest::survey).toList();
        Clouds clouds = Providers.open(providers, surveys, SiteFile.empty(), Optional.of(NOW));
        assertThat(clouds.all()).hasSize(providers.size());
        assertThat(clouds.accounts()).hasSize(providers.size());
        List<Check> checks = providers.stream()
                .flatMap(provider -> provider.checks().stream())
                .toList();
        Audit audit = Audit.of(new AuditContext(clouds, NOW, List.of(), Optional.empty()), checks, card -> true);
        assertThat(audit.findings())
                .filteredOn(finding -> finding.subject().equals("shelf:1"))
                .singleElement()
                .satisfies(finding -> assertThat(finding.card().id()).isEqualTo("index-missing"));
        assertThat(audit.sites()).extracting(Site::name).contains("shelf.example");
        assertThat(CheckCatalogue.of(providers)).hasSameSizeAs(CheckCatalogue.all());
        assertThat(clouds.questions(false).apply("{\"on\":\"shelf:1\"}")).isEqualTo("{}");
    }
}
