package warden.core.audit;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import warden.core.cloud.Cloud;
import warden.core.cloud.Clouds;
import warden.core.cloud.Deployments;
import warden.core.cloud.Publishing;
import warden.core.cloud.Publishing.UnreadCredential;
import warden.core.content.PublishedFolder;
import warden.core.pipeline.Pipeline;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SiteFile;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** What checks look at: the surveyed clouds, the pipelines, the folder that is about to be published, and what the owner says. */
public final class AuditContext {
    private final Clouds clouds;
    private final Instant at;
    private final List<Pipeline> pipelines;
    private final Optional<PublishedFolder> folder;
    private final Map<Cloud, Publishing> publishing = new IdentityHashMap<>();
    private final Map<Class<?>, Object> known = new HashMap<>();

    /**
     * Makes a context.
     *
     * @param at the instant as of which ages and expiries are judged
     * @param folder the folder that is about to be published; absent when none was given
     */
    public AuditContext(Clouds clouds, Instant at, List<Pipeline> pipelines, Optional<PublishedFolder> folder) {
        this.clouds = clouds;
        this.at = at;
        this.pipelines = List.copyOf(pipelines);
        this.folder = folder;
        clouds.all().forEach(cloud -> publishing.put(cloud, cloud.publishing(this.pipelines)));
    }

    public List<Cloud> clouds() {
        return clouds.all();
    }

    /** Returns all clouds as one. */
    public Clouds everywhere() {
        return clouds;
    }

    public SiteFile file() {
        return clouds.file();
    }

    public Instant at() {
        return at;
    }

    /** Returns all pipelines that are known, of whichever provider's sites. */
    public List<Pipeline> pipelines() {
        return pipelines;
    }

    public Optional<PublishedFolder> folder() {
        return folder;
    }

    /** Returns who publishes the sites of one of the clouds. */
    public Publishing publishing(Cloud cloud) {
        Publishing known = publishing.get(cloud);
        if (known == null) {
            throw new IllegalArgumentException("this cloud is not audited");
        }
        return known;
    }

    /** Returns the accounts, in the order of the clouds. */
    public List<SurveyedAccount> accounts() {
        return clouds.accounts();
    }

    /** Returns the accounts' surveys, in the same order. */
    public List<Survey> surveys() {
        return clouds.surveys();
    }

    /** Returns the sites, in the order of the clouds. */
    public List<Site> sites() {
        return clouds.sites();
    }

    /** Returns the credentials that publish sites. */
    public List<Publisher> publishers() {
        return clouds.all().stream()
                .<Publisher>flatMap(cloud -> publishing(cloud).publishers().stream())
                .toList();
    }

    /** Returns the credentials that publish a site. */
    public List<Publisher> publishersOf(Site site) {
        Map<Site, List<Publisher>> bySite = once(Publisher.class, () -> {
            Map<Site, List<Publisher>> all = new HashMap<>();
            publishers().forEach(publisher -> publisher.sites().forEach(each -> all.computeIfAbsent(
                            each, key -> new ArrayList<>())
                    .add(publisher)));
            return all;
        });
        return List.copyOf(bySite.getOrDefault(site, List.of()));
    }

    /** Returns the credentials that publish, or may, and that were not read. */
    public List<UnreadCredential> unreadCredentials() {
        return clouds.all().stream()
                .flatMap(cloud -> publishing(cloud).unreadCredentials().stream())
                .toList();
    }

    /** Returns, for each cloud, which pipelines publish which of its sites. */
    public List<Deployments> deployments() {
        return clouds.all().stream()
                .map(cloud -> publishing(cloud).deployments())
                .toList();
    }

    /** Returns the sites that a pipeline publishes, of whichever cloud. */
    public List<Site> sitesOf(Pipeline pipeline) {
        return deployments().stream()
                .<Site>flatMap(each -> each.sitesOf(pipeline).stream())
                .toList();
    }

    /** Returns the account that an identifier is of; absent where none says so. */
    public Optional<SurveyedAccount> accountOf(String subject) {
        return clouds.accountOf(subject);
    }

    /** Returns the names of the surveys as the user gave them, in the order of the accounts. */
    public List<String> surveyFiles() {
        return clouds.surveyFiles();
    }

    /** True when a question about this subject concerns every site of an account. */
    boolean concernsAll(SurveyedAccount account, String subject) {
        return subject.equals(account.number())
                || clouds.all().stream()
                        .filter(cloud -> cloud.accounts().contains(account))
                        .anyMatch(cloud -> publishing(cloud).concernsAll(account, subject));
    }

    /**
     * Returns what several checks ask of this context, worked out once.
     *
     * @param kind tells it apart from what others ask
     */
    @SuppressWarnings("unchecked")
    public synchronized <T> T once(Class<?> kind, Supplier<T> work) {
        // Working out one may take another, so that nothing may be held in the map meanwhile.
        Object found = known.get(kind);
        if (found == null) {
            found = work.get();
            known.put(kind, found);
        }
        return (T) found;
    }
}
