package ferry.tickets

/** The tickets bought so far. */
class History {
    private val tickets = mutableListOf()

    fun show() {
        val last = tickets.last()
        println("last ticket: $last")
    }
}
