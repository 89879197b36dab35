package warden.core.azure.account;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * What a list shows.
 *
 * @param items in the order of the list
 * @param open what keeps it from being whole, so that what it does not name may be there all the same; absent when it is whole
 * @param at where the list stands; absent when it was not read
 */
public record Listed(List<Item> items, Optional<Need> open, Optional<Citation> at) {
    public Listed {
        items = List.copyOf(items);
    }

    /** Returns the item with this identifier. */
    public Optional<Item> find(String id) {
        return items.stream().filter(item -> ResourceId.same(item.id(), id)).findFirst();
    }

    /** True when what is not among the items does not exist. */
    public boolean isWhole() {
        return open.isEmpty();
    }
}
