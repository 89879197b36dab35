package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Puts names in the place of attributes that a plan leaves open, where their whole expression is a reference to something that identifies a resource: a
 * bucket, a role, a zone. Source: the provider's documentation of each resource type, "Attribute Reference".
 */
final class TfReferences {
    private static final int MOST_HOPS = 20;

    private final List<TfResource> resources;
    private final Map<String, List<String>> references;
    private final Description all;
    private final TfNames names;
    private final Map<String, List<TfResource>> byBlock = new HashMap<>();

    TfReferences(List<TfResource> resources, Map<String, List<String>> references, Description all) {
        this.resources = resources;
        this.references = references;
        this.all = all;
        this.names = new TfNames(all);
        resources.forEach(each ->
                byBlock.computeIfAbsent(each.block(), key -> new ArrayList<>()).add(each));
    }

    List<TfResource> resolved() {
        return resources.stream().map(this::resolved).toList();
    }

    private TfResource resolved(TfResource each) {
        Object values = resolved(each, each.values().raw(), "");
        return new TfResource(
                each.address(), each.module(), each.type(), new Fields(values), each.change(), each.place());
    }

    private @Nullable Object resolved(TfResource of, @Nullable Object value, String path) {
        if (value instanceof Unknown unknown) {
            return named(of, path).map(Object.class::cast).orElse(unknown);
        }
        // Most of a plan is told; what is stays as it is.
        if (value instanceof Map<?, ?> map) {
            Map<String, Object> out = new LinkedHashMap<>();
            boolean isSame = true;
            for (Map.Entry<?, ?> member : map.entrySet()) {
                String name = String.valueOf(member.getKey());
                Object one = resolved(of, member.getValue(), path.isEmpty() ? name : path + "." + name);
                isSame &= one == member.getValue();
                out.put(name, one);
            }
            return isSame ? map : out;
        }
        if (value instanceof List<?> list) {
            List<Object> out = new ArrayList<>();
            boolean isSame = true;
            for (Object item : list) {
                Object one = resolved(of, item, path);
                isSame &= one == item;
                out.add(one);
            }
            return isSame ? list : out;
        }
        return value;
    }

    /** The attributes that name something else; others may be put together of what they refer to. */
    private static final Set<String> NAMING = Set.of(
            "bucket",
            "target_bucket",
            "role",
            "user",
            "group",
            "policy_arn",
            "zone_id",
            "origin_access_control_id",
            "origin_access_identity",
            "cache_policy_id",
            "origin_request_policy_id",
            "response_headers_policy_id",
            "domain_name",
            "acm_certificate_arn",
            "function_arn",
            "kms_master_key_id",
            "key_id");

    private Optional<String> named(TfResource of, String path) {
        String last = path.substring(path.lastIndexOf('.') + 1);
        if (!NAMING.contains(last) && !path.equals("alias.name")) {
            return Optional.empty();
        }
        List<String> refers = references.get(of.block() + " " + path);
        Optional<String> target = refers == null ? Optional.empty() : target(refers, of.key(), 0);
        // A plan does not say what stands beside a reference: of a bucket's name alone more would have to be made to
        // become a host.
        boolean wantsHost = last.equals("domain_name") || path.equals("alias.name");
        return wantsHost ? target.filter(TfReferences::isHost) : target;
    }

    private static boolean isHost(String name) {
        return name.replaceAll("\\{[^}]*}", "").indexOf('.') >= 0;
    }

    /** The references of an expression go from the longest to the shortest; several different ones are no whole attribute. */
    private Optional<String> target(List<String> refers, String key, int hops) {
        if (refers.isEmpty() || hops > MOST_HOPS) {
            return Optional.empty();
        }
        String first = refers.get(0);
        boolean isOne = refers.stream().allMatch(first::startsWith);
        if (!isOne) {
            return Optional.empty();
        }
        String plain = TfResource.withoutKeys(first);
        String module = plain.replaceFirst("^((module\\.[^.]+\\.)*).*$", "$1");
        String rest = plain.substring(module.length());
        String owner = module.isEmpty() ? "" : module.substring(0, module.length() - 1);
        if (rest.startsWith("var.")) {
            return Optional.ofNullable(references.get(owner + " " + rest)).flatMap(next -> target(next, key, hops + 1));
        }
        // An output of a module: its address ends where the name of the output begins.
        int cut = rest.indexOf('.');
        if (!module.isEmpty() && !rest.isEmpty() && cut < 0) {
            return Optional.ofNullable(references.get(owner + " output." + rest))
                    .flatMap(next -> target(next, key, hops + 1));
        }
        String[] parts = rest.split("\\.");
        if (parts.length < 3 || parts[0].equals("data")) {
            return parts.length >= 4 && parts[1].equals("aws_caller_identity") && parts[3].equals("account_id")
                    ? Optional.of(all.account())
                    : Optional.empty();
        }
        String block = module + parts[0] + "." + parts[1];
        String attribute = parts[2];
        List<TfResource> named = byBlock.getOrDefault(block, List.of());
        return named.stream()
                .filter(each -> named.size() == 1 || each.key().equals(key))
                .findFirst()
                .flatMap(each -> attribute(each, attribute, hops));
    }

    private Optional<String> attribute(TfResource of, String attribute, int hops) {
        return names.attribute(
                of.type(),
                of.address(),
                name -> known(of, name)
                        .or(() -> name.equals("bucket") || name.equals("certificate_arn")
                                ? Optional.ofNullable(references.get(of.block() + " " + name))
                                        .flatMap(next -> target(next, of.key(), hops + 1))
                                : Optional.empty()),
                attribute);
    }

    private static Optional<String> known(TfResource of, String attribute) {
        Fields there = of.values().at(attribute);
        return there.raw() instanceof String text && !text.isEmpty() ? Optional.of(text) : Optional.empty();
    }
}
