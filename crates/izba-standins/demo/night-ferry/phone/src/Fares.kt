package ferry.tickets

/** Shows what a crossing costs. */
class Fares {
    fun show(prices: Map<String, String>) {
        var sum = price(prices["adult"]!!)
        sum = sum + price(prices["child"]!!)
        println("a family pays $sum")
    }

    private fun price(text: String): Int {
        return text.trim().toInt()
    }
}
