package ferry.tickets

/** What is asked before a ticket is booked. */
class TicketForm {
    var from: String = "South Bank"
    var to: String = "North Bank"
    var name: String = ""

    fun book() {
        println("booked for $name")
    }
}
