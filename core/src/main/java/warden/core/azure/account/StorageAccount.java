package warden.core.azure.account;

import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * One storage account and its blob service. Safe for use by several threads.
 *
 * <p>Source: Storage resource provider REST API, "Storage Accounts - Get Properties", "Blob Services - Get Service Properties"; "Static website
 * hosting in Azure Storage".
 */
public final class StorageAccount {
    private final Subscription subscription;
    private final String id;
    private final String key;
    private final Reading<Item> settings;
    private @Nullable Reading<Item> blobService;
    private @Nullable Reading<WebHosting> hosting;
    private @Nullable Map<String, Container> containers;
    private @Nullable Set<String> webHosts;
    private @Nullable Set<String> blobHosts;

    StorageAccount(Subscription subscription, String id, Reading<Item> settings) {
        this.subscription = subscription;
        this.id = id;
        this.key = ResourceId.key(id);
        this.settings = settings;
    }

    public String id() {
        return id;
    }

    /** Returns its identifier in the form in which identifiers are compared. */
    public String key() {
        return key;
    }

    public String name() {
        return ResourceId.name(id);
    }

    public Subscription subscription() {
        return subscription;
    }

    public Reading<Item> settings() {
        return settings;
    }

    /** Returns that the account has to be read. */
    public Need need(String why) {
        return settings.missing()
                .orElse(new Need("storage-account", id, why, "Microsoft.Storage/storageAccounts/read"));
    }

    /** Returns where a setting stands; absent when the account was not read. */
    public Optional<Citation> cite(String... path) {
        return settings.found().map(item -> item.cite(path));
    }

    private Truth flag(Truth missing, String... path) {
        return settings.found().map(item -> item.isOn(missing, path)).orElse(Truth.UNKNOWN);
    }

    /** Returns whether containers may be opened to everyone. The default has changed, so a missing word tells nothing. */
    public Truth allowsAnonymous() {
        return flag(Truth.UNKNOWN, "allowBlobPublicAccess");
    }

    /** Returns whether account keys, and what is signed with them, are accepted. */
    public Truth acceptsSharedKeys() {
        Truth all = flag(Truth.TRUE, "allowSharedKeyAccess");
        // Which of the two counts where they differ is not said.
        return flag(all, "allowSharedKeyAccessForServices", "blob", "enabled") != all ? Truth.UNKNOWN : all;
    }

    /** Returns whether plain HTTP is refused. */
    public Truth refusesPlainHttp() {
        return flag(Truth.UNKNOWN, "supportsHttpsTrafficOnly");
    }

    /** Returns whether blobs have hierarchical names, whose own access lists may add to what roles grant. */
    public Truth isHierarchical() {
        return flag(Truth.FALSE, "isHnsEnabled");
    }

    /** Returns whether local users may write over SFTP, whom no role shows. */
    public Truth hasLocalUsers() {
        return flag(Truth.FALSE, "isSftpEnabled").or(flag(Truth.FALSE, "isLocalUserEnabled"));
    }

    /** Returns whether a local user who is made now could sign in over SFTP. */
    public Truth admitsLocalUsers() {
        return flag(Truth.FALSE, "isSftpEnabled").and(flag(Truth.TRUE, "isLocalUserEnabled"));
    }

    /** Returns the lowest TLS version, as written; a missing word stands for the oldest. Absent when the account was not read. */
    public Optional<String> minimumTls() {
        return settings.found().map(item -> item.text("minimumTlsVersion").orElse("TLS1_0"));
    }

    /** Returns whether accounts of this kind serve static websites. */
    public Truth servesWebsites() {
        return settings.found()
                .flatMap(item -> item.document().text("kind"))
                .map(kind -> switch (kind) {
                    case "StorageV2", "BlockBlobStorage" -> Truth.TRUE;
                    case "Storage", "BlobStorage", "FileStorage" -> Truth.FALSE;
                    default -> Truth.UNKNOWN;
                })
                .orElse(Truth.UNKNOWN);
    }

    /** Returns who gets through to the account's endpoints. */
    public Network network() {
        return Network.of(settings.found());
    }

    /** Returns the hosts by which its web endpoint answers, all variants of one site; its own name first. */
    public synchronized Set<String> webHosts() {
        if (webHosts == null) {
            webHosts = hosts("web");
        }
        return webHosts;
    }

    /** Returns the hosts by which its blob endpoint answers. */
    public synchronized Set<String> blobHosts() {
        if (blobHosts == null) {
            blobHosts = hosts("blob");
        }
        return blobHosts;
    }

    private Set<String> hosts(String endpoint) {
        Set<String> hosts = new LinkedHashSet<>();
        Optional<Item> item = settings.found();
        boolean readsSecondary = item.flatMap(each -> each.document().text("sku", "name"))
                .filter(sku -> sku.equals("Standard_RAGRS") || sku.equals("Standard_RAGZRS"))
                .isPresent();
        for (String side :
                readsSecondary ? List.of("primaryEndpoints", "secondaryEndpoints") : List.of("primaryEndpoints")) {
            item.flatMap(each -> each.text(side, endpoint))
                    .flatMap(StorageAccount::host)
                    .ifPresent(hosts::add);
            for (String variant : List.of("microsoftEndpoints", "internetEndpoints", "ipv6Endpoints")) {
                item.flatMap(each -> each.text(side, variant, endpoint))
                        .flatMap(StorageAccount::host)
                        .ifPresent(hosts::add);
            }
        }
        return hosts;
    }

    private static Optional<String> host(String url) {
        try {
            return Optional.ofNullable(URI.create(url).getHost()).map(host -> host.toLowerCase(Locale.ROOT));
        } catch (IllegalArgumentException noAddress) {
            return Optional.empty();
        }
    }

    /** Returns the one foreign host that its endpoints answer to, in lower case; absent when there is none, or it was not read. */
    public Optional<String> customDomain() {
        return settings.found()
                .flatMap(item -> item.text("customDomain", "name"))
                .filter(name -> !name.isEmpty())
                .map(name -> name.toLowerCase(Locale.ROOT));
    }

    public synchronized Reading<Item> blobService() {
        if (blobService == null) {
            blobService = subscription.one("blob-service", ResourceId.blobService(id));
        }
        return blobService;
    }

    /** Returns the settings of its website. Where two calls gave them and differ, which of them holds is not known. */
    public synchronized Reading<WebHosting> hosting() {
        if (hosting == null) {
            hosting = readHosting();
        }
        return hosting;
    }

    private Reading<WebHosting> readHosting() {
        String service = ResourceId.blobService(id);
        Optional<Reading<WebHosting>> byService = blobService().found().flatMap(item -> item.find("staticWebsite")
                .map(part -> new Reading.Found<>(
                        WebHosting.of(part),
                        item.at().at(item.at().path() + "/properties/staticWebsite", quote(part)))));
        Reading<JsonPart> own = subscription.reading("static-website", service);
        Optional<Reading<WebHosting>> byData = own.found()
                .map(part -> new Reading.Found<>(
                        WebHosting.of(part), own.citation().orElseThrow().at("", quote(part))));
        if (byService.isPresent() && byData.isPresent()) {
            boolean same = byService.get().found().equals(byData.get().found());
            return same
                    ? byService.get()
                    : new Reading.Unread<>(new Need(
                            "static-website",
                            service,
                            "the two readings of the website's settings differ",
                            "Microsoft.Storage/storageAccounts/blobServices/read"));
        }
        return byService
                .or(() -> byData)
                .orElseGet(() -> new Reading.Unread<>(blobService()
                        .missing()
                        .or(own::missing)
                        .orElse(new Need(
                                "static-website",
                                service,
                                "the settings of the website are not in the answer",
                                "Microsoft.Storage/storageAccounts/blobServices/read"))));
    }

    private static String quote(JsonPart part) {
        return JsonSpelling.of(part);
    }

    /** Returns the containers that the survey knows, the website's own among them in any case. */
    public synchronized List<Container> containers() {
        return List.copyOf(byName().values());
    }

    private Map<String, Container> byName() {
        if (containers == null) {
            Map<String, Container> all = new LinkedHashMap<>();
            listed().items()
                    .forEach(item -> all.put(
                            ResourceId.name(item.id()),
                            new Container(this, item.id(), new Reading.Found<>(item, item.at()))));
            all.computeIfAbsent(
                    ResourceId.WEB,
                    name -> new Container(
                            this,
                            ResourceId.container(id, name),
                            subscription.one("container", ResourceId.container(id, name))));
            containers = all;
        }
        return containers;
    }

    /** Returns the list of containers; those that are deleted and kept for a while do not count. */
    public Listed listed() {
        Listed all = subscription.list("container-list", ResourceId.blobService(id), "container");
        return new Listed(
                all.items().stream()
                        .filter(item ->
                                !item.document().flag("properties", "deleted").orElse(false)
                                        && !item.document().flag("deleted").orElse(false))
                        .toList(),
                all.open(),
                all.at());
    }

    /** Returns a container by its name, whether or not the survey knows it. */
    public synchronized Container container(String name) {
        return byName().computeIfAbsent(
                        name,
                        key -> new Container(
                                this,
                                ResourceId.container(id, key),
                                subscription.one("container", ResourceId.container(id, key))));
    }

    /** Returns the container that static websites are served from. */
    public Container web() {
        return container(ResourceId.WEB);
    }

    /** Returns the hosts of both endpoints. */
    public Stream<String> hosts() {
        List<String> all = new ArrayList<>(webHosts());
        all.addAll(blobHosts());
        return all.stream();
    }
}
