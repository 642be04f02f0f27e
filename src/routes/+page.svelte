<h1>Ramblet</h1>
